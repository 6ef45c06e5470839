import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useMutation } from '@tanstack/react-query'
import * as limits from '../api/generated/limits'
import type { Dataset, Layer } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { counted, sizeOf } from '../wording'
import { useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { BandChoice } from './BandChoice'
import { NamedValueList } from './NamedValueList'
import { RampPicker } from './RampPicker'
import { inkRaster } from './rasterInk'
import { ReadingControls } from './ReadingControls'

const KINDS = [
  ['raster-ramp', 'Colours along a ramp'],
  ['raster-classes', 'Colours by class'],
  ['named-values', 'Values that have names'],
  ['hillshade', 'Shaded relief'],
  ['slope', 'Slope'],
  ['picture', 'Its own colours'],
] as const
type Kind = (typeof KINDS)[number][0]
const STRETCHES = [
  ['percentiles', '2nd to 98th percentile'],
  ['extremes', 'least to greatest'],
  ['deviations', '2 deviations from the mean'],
] as const

/** Ink of a raster: a ramp or classes of its values, what they stand for, shading, or the colours that it carries. */
export function RasterControls({ layer, dataset }: { layer: Layer; dataset: Dataset }) {
  const editLayer = useSheet((s) => s.editLayer)
  const header = useInk(layer).data?.header
  const symbology = layer.symbology
  const change = (tag: string, values: object) =>
    editLayer(layer.id, `raster-${tag}`, (draft) => void Object.assign(draft.symbology, values))
  const bands = Number(dataset.raster?.bands ?? 1)
  const ink = useMutation({ mutationFn: (kind: Kind) => inkRaster(layer, kind) })
  return (
    <Box sx={{ display: 'flex', gap: 4 }}>
      <Box sx={{ flexShrink: 0 }}>
        <ReadingControls layer={layer} dataset={dataset} />
        <Choice label="Ink" value={symbology.kind as Kind} options={KINDS} onChange={(kind) => ink.mutate(kind)} />
        {ink.error && (
          <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
            {ink.error.message}
          </Typography>
        )}
        {'band' in symbology && bands > 1 && <BandChoice layer={layer} band={symbology.band} bands={bands} />}
        {symbology.kind === 'hillshade' && (
          <>
            <Choice
              label="Light"
              value={symbology.light}
              options={
                [
                  ['one', 'from one side'],
                  ['four', 'from four sides'],
                ] as const
              }
              onChange={(light) => change('light', { light })}
            />
            {symbology.light === 'one' && (
              <Amount
                label="Sun from"
                value={symbology.azimuth}
                limits={limits.Hillshade.azimuth}
                step={1}
                onChange={(azimuth) => change('azimuth', { azimuth })}
              />
            )}
            <Amount
              label="Sun height"
              value={symbology.altitude}
              limits={limits.Hillshade.altitude}
              step={1}
              onChange={(altitude) => change('altitude', { altitude })}
            />
            <Amount
              label="Exaggerate"
              value={symbology.exaggeration}
              limits={limits.Hillshade.exaggeration}
              from={0.1}
              to={10}
              step={0.1}
              onChange={(exaggeration) => change('exaggeration', { exaggeration })}
            />
          </>
        )}
        {symbology.kind === 'raster-ramp' && (
          <>
            <Choice
              label="Stretch"
              value={symbology.stretch}
              options={STRETCHES}
              onChange={(stretch) => change('stretch', { stretch, low: null, high: null })}
            />
            <Labelled label="From, to">
              <EditableNumber
                label="Value at the low end"
                value={symbology.low ?? header?.key[0]?.ends[0] ?? 0}
                onChange={(low) => change('ends', { low })}
              />
              <EditableNumber
                label="Value at the high end"
                value={symbology.high ?? header?.key[0]?.ends.at(-1) ?? 1}
                onChange={(high) => change('ends', { high })}
              />
            </Labelled>
          </>
        )}
        {symbology.kind === 'slope' && (
          <Labelled label="From, to">
            <EditableNumber
              label="Degrees at the low end"
              value={symbology.low}
              limits={limits.Slope.low}
              onChange={(low) => change('ends', { low })}
            />
            <EditableNumber
              label="Degrees at the high end"
              value={symbology.high}
              limits={limits.Slope.high}
              onChange={(high) => change('ends', { high })}
            />
            <Typography variant="caption">degrees</Typography>
          </Labelled>
        )}
        {symbology.kind === 'raster-classes' && (
          <Button variant="outlined" onClick={() => useSheet.getState().show('classify')}>
            {symbology.classing.method === 'manual' ? symbology.classing.breaks.length : symbology.classing.classes}{' '}
            classes: to Classify
          </Button>
        )}
        <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mt: 1, maxWidth: 270 }}>
          {sizeOf(dataset)} · {counted(bands, 'band')} · {String(dataset.raster?.type)} · nodata{' '}
          {String(dataset.raster?.nodata ?? 'none')}
        </Typography>
      </Box>
      {'ramp' in symbology && (
        <RampPicker
          value={symbology.ramp}
          classes={symbology.kind === 'raster-classes' ? Math.max(2, header?.classes.length ?? 5) : 9}
          colours={[]}
          onChange={(ramp) => ramp && change('ramp', { ramp })}
        />
      )}
      {symbology.kind === 'named-values' && (
        <NamedValueList values={symbology.values} onChange={(values) => change('values', { values })} />
      )}
    </Box>
  )
}
