import { lazy, Suspense } from 'react'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Blend, Layer } from '../api/types'
import { Amount, Choice } from '../bench/Labelled'
import { NoLayer } from '../bench/NoLayer'
import { useDataset } from '../sheet/queries'
import { useChosenLayer, useSheet } from '../sheet/store'
import { RasterControls } from './RasterControls'
import { SymbolControls } from './SymbolControls'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))

const BLENDS: Blend[] = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
]

/** How each class looks, and how the layer lies on what is below it. */
export function Draw() {
  const layer = useChosenLayer()
  const dataset = useDataset(layer?.dataset)
  if (!layer) return <NoLayer />
  if (!dataset) return <NoLayer text="The dataset of this layer is not in the library any more." />
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 290px', height: '100%' }}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        {dataset.kind === 'raster' ? (
          <RasterControls layer={layer} dataset={dataset} />
        ) : (
          <SymbolControls layer={layer} kind={dataset.kind} />
        )}
      </Box>
      <LayerControls layer={layer} rows={dataset.kind !== 'raster'} />
    </Box>
  )
}

function LayerControls({ layer, rows }: { layer: Layer; rows: boolean }) {
  const editLayer = useSheet((s) => s.editLayer)
  return (
    <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, overflow: 'auto' }}>
      <Choice
        label="Blend"
        value={layer.blend}
        options={BLENDS.map((blend) => [blend, blend.replace('-', ' ')] as const)}
        onChange={(blend) => editLayer(layer.id, 'blend', (draft) => void (draft.blend = blend))}
      />
      <Amount
        label="Opacity"
        value={layer.opacity}
        from={0}
        to={1}
        step={0.01}
        onChange={(value) =>
          editLayer(layer.id, 'opacity', (draft) => void (draft.opacity = Math.min(1, Math.max(0, value))))
        }
      />
      {rows && (
        <Box sx={{ mt: 1 }}>
          <Typography variant="body2" color="text.secondary" sx={{ mb: 0.5 }}>
            Only rows where
          </Typography>
          <Suspense fallback={<Box sx={{ height: 100 }} />}>
            <ConditionEditor
              key={layer.id}
              dataset={layer.dataset}
              value={layer.filter}
              label="Filter"
              onChange={(filter) => editLayer(layer.id, 'filter', (draft) => void (draft.filter = filter))}
            />
          </Suspense>
        </Box>
      )}
    </Box>
  )
}
