import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Clusters, Dataset, Layer } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Labelled } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'
import { useSheet } from '../sheet/store'
import { ColourField } from './ColourField'
import { ReadingControls } from './ReadingControls'
import { SymbolFields } from './SymbolFields'

/** Clusters: how close points are one, how large their circles are, and what a point by itself looks like. */
export function ClusterControls({ layer, clusters, dataset }: { layer: Layer; clusters: Clusters; dataset: Dataset }) {
  const change = (tag: string, values: Partial<Clusters>) =>
    useSheet.getState().editLayer(layer.id, `clusters-${tag}`, (draft) => void Object.assign(draft.symbology, values))
  return (
    <Box sx={{ display: 'flex', gap: 4 }}>
      <Box sx={{ flexShrink: 0 }}>
        <ReadingControls layer={layer} dataset={dataset} />
        <Amount
          label="Reach"
          value={clusters.reach}
          limits={limits.Clusters.reach}
          from={16}
          to={120}
          step={1}
          onChange={(reach) => change('reach', { reach })}
        />
        <Amount
          label="Two points"
          value={clusters.smallest}
          limits={limits.Clusters.smallest}
          from={4}
          to={40}
          step={0.5}
          onChange={(smallest) => change('smallest', { smallest })}
        />
        <Amount
          label="All together"
          value={clusters.largest}
          limits={limits.Clusters.largest}
          from={8}
          to={80}
          step={0.5}
          onChange={(largest) => change('largest', { largest })}
        />
        <Labelled label="Numbers">
          <ColourField
            label="Colour of the numbers"
            value={clusters.colour}
            onChange={(colour) => change('colour', { colour })}
          />
        </Labelled>
        <Labelled label="Apart from">
          <Typography variant="caption">1:</Typography>
          <EditableNumber
            label="Scale from which on every point stands by itself"
            value={clusters.apart ?? 0}
            onChange={(apart) => change('apart', { apart: withinOrNone(limits.Clusters.apart, apart) })}
          />
        </Labelled>
      </Box>
      <Box>
        <SymbolFields
          symbol={clusters.symbol}
          kind="points"
          coloured={false}
          largest={null}
          inPx
          onChange={(tag, values) => change(`symbol-${tag}`, { symbol: { ...clusters.symbol, ...values } })}
        />
      </Box>
    </Box>
  )
}
