import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { useMutation } from '@tanstack/react-query'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, Layer, Reading } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { Check } from '../bench/Check'
import { numericNames } from '../fields'
import { useSheet } from '../sheet/store'
import { FieldOf } from './FieldOf'

const FEATURES = 'features'
/** What may be drawn of data, in words. */
const SAID: Record<string, string> = {
  hexagon: 'hexagons of them',
  square: 'squares of them',
  rounds: 'circles on the ground',
  clusters: 'clusters of them',
  heat: 'a heat surface',
  dots: 'dots within them',
  contours: 'its contours',
}

/** The same of data of a kind. */
const wordsFor = (kind: Dataset['kind'], way: string) =>
  way === 'centres' ? (kind === 'lines' ? 'their middles' : 'their centres') : (SAID[way] ?? way)

/** What of the data is drawn: the features, or something made of them. */
export function ReadingControls({ layer, dataset }: { layer: Layer; dataset: Dataset }) {
  const { editLayer } = useSheet.getState()
  const reading = layer.reading ?? null
  const now =
    layer.symbology.kind === 'heat' || layer.symbology.kind === 'clusters'
      ? layer.symbology.kind
      : reading === null
        ? FEATURES
        : reading.by === 'grid'
          ? reading.shape
          : reading.by
  const read = useMutation({
    mutationFn: (by: string | null) =>
      answered(client.POST('/api/draw/read', { body: { dataset: layer.dataset, by, before: layer } })),
    onSuccess: (parts) =>
      editLayer(
        layer.id,
        'reading',
        (draft) => void Object.assign(draft, { ...parts, filter: dataset.kind === 'raster' ? '' : draft.filter }),
      ),
  })
  const change = (tag: string, values: Partial<Reading>) =>
    editLayer(layer.id, `reading-${tag}`, (draft) => {
      if (draft.reading) Object.assign(draft.reading, values)
    })
  const offered = dataset.offered.map((way) => [way, wordsFor(dataset.kind, way)] as const)
  if (offered.length === 0) return null
  return (
    <Box sx={{ mb: 0.5, pb: 0.5, borderBottom: 1, borderColor: 'line' }}>
      <Choice
        label="Drawn are"
        value={now}
        options={[[FEATURES, dataset.kind === 'raster' ? 'the raster' : 'the features'] as const, ...offered]}
        onChange={(by) => read.mutate(by === FEATURES ? null : by)}
      />
      {read.error && (
        <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
          {read.error.message}
        </Typography>
      )}
      {reading?.by === 'grid' && (
        <>
          <Labelled label="Size">
            <EditableNumber
              label="Metres from side to side"
              value={reading.size}
              limits={limits.Grid.size}
              onChange={(size) => change('size', { size })}
            />
            <Typography variant="caption">m across</Typography>
          </Labelled>
          <Choice
            label="Holding"
            value={reading.what}
            options={
              [
                ['count', 'how many'],
                ['sum', 'the sum of a field'],
                ['mean', 'the mean of a field'],
              ] as const
            }
            onChange={(what) =>
              change('what', {
                what,
                field: reading.field ?? numericNames(dataset.fields)[0] ?? null,
              })
            }
          />
          {reading.what !== 'count' && (
            <FieldOf
              label="Of"
              dataset={dataset}
              value={reading.field ?? ''}
              onChange={(field) => change('field', { field })}
            />
          )}
        </>
      )}
      {reading?.by === 'rounds' && (
        <>
          <Labelled label="Radius">
            <EditableNumber
              label="Metres of the radius"
              value={reading.metres}
              limits={limits.Rounds.metres}
              onChange={(metres) => change('metres', { metres })}
            />
            <Typography variant="caption">{reading.field ? 'm for each of' : 'm on the ground'}</Typography>
          </Labelled>
          <Labelled label="">
            <Check
              label="times a field"
              checked={reading.field != null}
              disabled={numericNames(dataset.fields).length === 0}
              onChange={(on) => change('field', { field: on ? (numericNames(dataset.fields)[0] ?? null) : null })}
            />
          </Labelled>
          {reading.field != null && (
            <FieldOf
              label="Times"
              dataset={dataset}
              value={reading.field}
              onChange={(field) => change('field', { field })}
            />
          )}
        </>
      )}
      {reading?.by === 'contours' && <ContourFields reading={reading} change={change} />}
      {reading?.by === 'dots' && (
        <>
          <FieldOf
            label="Of"
            dataset={dataset}
            value={reading.field}
            onChange={(field) => change('field', { field })}
          />
          <Labelled label="One dot is">
            <EditableNumber
              label="How many one dot is"
              value={reading.each}
              limits={limits.Dots.each}
              onChange={(each) => change('each', { each })}
            />
          </Labelled>
        </>
      )}
    </Box>
  )
}

type Contours = Extract<Reading, { by: 'contours' }>

interface ContourProps {
  reading: Contours
  change: (tag: string, values: Partial<Contours>) => void
}

/** How far apart contours are, from where they are counted, and which are index lines. */
function ContourFields({ reading, change }: ContourProps) {
  return (
    <>
      <Labelled label="Every">
        <EditableNumber
          label="Interval of contours"
          value={reading.interval}
          limits={limits.Contours.interval}
          onChange={(interval) => change('interval', { interval })}
        />
        <Typography variant="caption">from</Typography>
        <EditableNumber
          label="Height from which contours are counted"
          value={reading.base}
          onChange={(base) => change('base', { base })}
        />
      </Labelled>
      <Labelled label="Index lines">
        <Typography variant="caption">every</Typography>
        <EditableNumber
          label="Every how manieth contour is an index line"
          value={reading.index}
          limits={limits.Contours.index}
          onChange={(index) => change('index', { index })}
        />
        <Typography variant="caption">lines</Typography>
      </Labelled>
    </>
  )
}
