import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Dataset, Layer, Symbology } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { counted, sizeOf } from '../wording'
import { useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { RampPicker } from './RampPicker'

const KINDS = [
  ['raster-ramp', 'Colours along a ramp'],
  ['hillshade', 'Shaded relief'],
  ['picture', 'Its own colours'],
] as const
type Kind = (typeof KINDS)[number][0]

/** Ink of a raster: a ramp between two values, shading, or the colours that it carries. */
export function RasterControls({ layer, dataset }: { layer: Layer; dataset: Dataset }) {
  const editLayer = useSheet((s) => s.editLayer)
  const header = useInk(layer).data?.header
  const symbology = layer.symbology
  const change = (tag: string, values: object) =>
    editLayer(layer.id, `raster-${tag}`, (draft) => void Object.assign(draft.symbology, values))
  const bands = Number(dataset.raster?.bands ?? 1)
  return (
    <Box sx={{ display: 'flex', gap: 4 }}>
      <Box sx={{ flexShrink: 0 }}>
        <Choice
          label="Ink"
          value={symbology.kind as Kind}
          options={KINDS}
          onChange={(kind) =>
            editLayer(layer.id, 'raster-kind', (draft) => void (draft.symbology = { kind } as Symbology))
          }
        />
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
                from={0}
                to={360}
                step={1}
                onChange={(azimuth) => change('azimuth', { azimuth })}
              />
            )}
            <Amount
              label="Sun height"
              value={symbology.altitude}
              from={0}
              to={90}
              step={1}
              onChange={(altitude) => change('altitude', { altitude })}
            />
            <Amount
              label="Exaggerate"
              value={symbology.exaggeration}
              from={0.1}
              to={10}
              step={0.1}
              onChange={(exaggeration) => change('exaggeration', { exaggeration: Math.max(0.05, exaggeration) })}
            />
          </>
        )}
        {symbology.kind === 'raster-ramp' && (
          <>
            {bands > 1 && (
              <Amount
                label="Band"
                value={symbology.band}
                from={1}
                to={bands}
                step={1}
                onChange={(band) => change('band', { band })}
              />
            )}
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
        <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mt: 1, maxWidth: 270 }}>
          {sizeOf(dataset)} · {counted(bands, 'band')} · {String(dataset.raster?.type)} · nodata{' '}
          {String(dataset.raster?.nodata ?? 'none')}
        </Typography>
      </Box>
      {symbology.kind === 'raster-ramp' && (
        <RampPicker
          value={symbology.ramp}
          classes={9}
          colours={[]}
          onChange={(ramp) => ramp && change('ramp', { ramp })}
        />
      )}
    </Box>
  )
}
