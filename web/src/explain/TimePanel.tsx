import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Time } from '../api/types'
import { Check } from '../bench/Check'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { startingQuery } from '../sheet/queries'
import { rowsOf } from '../sheet/read'
import { DatesOfParts } from './DatesOfParts'
import { type Asked, editReader, fieldsOf, useAskedLayers, useReader } from './reader'

const BY = {
  hour: 'hours',
  day: 'days',
  week: 'weeks',
  month: 'months',
  quarter: 'quarters',
  year: 'years',
  steps: 'a number of steps',
} as const
const MONTHS = Array.from({ length: 12 }, (_, i) =>
  new Intl.DateTimeFormat('en', { month: 'long', timeZone: 'UTC' }).format(Date.UTC(2026, i, 1)),
)
const NONE = 'none'

/** Whether features appear by when they were, and how that is played. */
export function TimePanel() {
  const reader = useReader()
  const asked = useAskedLayers()
  const starting = useQuery(startingQuery).data
  const begin = useMutation({
    mutationFn: async (of: { id: string; field: string }) => {
      const layer = asked.find((each) => each.layer.id === of.id)?.layer
      if (!layer) return null
      const body = { ...rowsOf(layer), layer: layer.id, field: of.field }
      return answered(client.POST('/api/draw/time', { body }))
    },
    onSuccess: (time) => time && editReader('time', (draft) => void (draft.time = time)),
  })
  if (!reader || !starting) return null
  const dated = asked.filter(({ fields }) => datesOf(fields).length > 0)
  const { time } = reader
  const set = (values: Partial<Time>) =>
    editReader('time', (draft) => void (draft.time = { ...(draft.time ?? starting.time), ...values }))
  const [first] = dated
  const field = datesOf(first?.fields ?? [])[0]
  if (!time)
    return (
      <Box sx={{ p: 3 }}>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 2 }}>
          {dated.length > 0
            ? 'Features are all there at once. With a field of dates they appear one after the other.'
            : 'No layer has a field of dates. A field of texts becomes one in the table, under Fields.'}
        </Typography>
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
          {dated.length === 0 && <DatesOfParts asked={asked} onMade={(id, field) => begin.mutate({ id, field })} />}
          <Button
            variant="outlined"
            disabled={!first || !field || begin.isPending}
            onClick={() => first && field && begin.mutate({ id: first.layer.id, field })}
          >
            Play through time
          </Button>
        </Box>
        {begin.error && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
            {begin.error.message}
          </Typography>
        )}
      </Box>
    )
  const dates = datesOf(fieldsOf(asked, time.layer))
  const calendar = time.by !== 'steps'
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(2, 290px) minmax(0, 1fr)',
        gap: 4,
        p: 2,
        pl: 3,
        overflow: 'auto',
      }}
    >
      <Box>
        <Choice
          label="Layer"
          value={time.layer}
          options={dated.map(({ layer }) => [layer.id, layer.name] as const)}
          onChange={(layer) => set({ layer, field: datesOf(fieldsOf(asked, layer))[0] ?? '', until: null })}
        />
        <Choice label="When" value={time.field} options={dates.map(same)} onChange={(field) => set({ field })} />
        <Choice
          label="Until"
          value={time.until ?? NONE}
          options={[
            [NONE, 'it lasts no longer'],
            ...dates.filter((name) => name !== time.field && name !== NONE).map(same),
          ]}
          onChange={(until) => set({ until: until === NONE ? null : until })}
        />
        <Choice
          label="By"
          value={time.by}
          options={Object.entries(BY) as [Time['by'], string][]}
          onChange={(by) => set({ by })}
        />
        {!calendar && (
          <Labelled label="Steps">
            <EditableNumber
              width={56}
              label="Steps"
              value={time.steps}
              limits={limits.Time.steps}
              onChange={(steps) => set({ steps })}
            />
          </Labelled>
        )}
        {(time.by === 'year' || time.by === 'quarter') && (
          <Choice
            label="Years from"
            value={String(time.year_from)}
            options={MONTHS.map((name, i) => [String(i + 1), name] as const)}
            onChange={(month) => set({ year_from: Number(month) })}
          />
        )}
      </Box>
      <Box>
        <Labelled label="Seen at once">
          <EditableNumber
            width={56}
            label="Steps seen at once"
            value={time.length}
            limits={limits.Time.length}
            onChange={(length) => set({ length })}
          />
          <span style={{ fontSize: 12.5 }}>{calendar ? BY[time.by] : 'steps'}</span>
        </Labelled>
        <Labelled label="Played in">
          <EditableNumber
            width={56}
            label="Seconds of the whole"
            value={time.seconds}
            limits={limits.Time.seconds}
            onChange={(seconds) => set({ seconds })}
          />
          <span style={{ fontSize: 12.5 }}>seconds</span>
        </Labelled>
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1, mt: 1 }}>
          <Check
            label="what was seen once stays"
            checked={time.cumulative}
            onChange={(cumulative) => set({ cumulative })}
          />
          <Check label="what was earlier is fainter" checked={time.fade} onChange={(fade) => set({ fade })} />
          <Check label="begins again at the end" checked={time.loop} onChange={(loop) => set({ loop })} />
        </Box>
      </Box>
      <Box>
        <Button variant="outlined" onClick={() => editReader('time', (draft) => void (draft.time = null))}>
          All at once
        </Button>
      </Box>
    </Box>
  )
}

const same = (name: string) => [name, name] as const

const datesOf = (fields: Asked['fields']) => fields.filter(({ type }) => type === 'date').map(({ name }) => name)
