import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset, LocateIn, PlacesView } from '../api/types'
import { fitTo, nextPlace } from '../sheet/mapBridge'
import { counted } from '../wording'
import { GlanceMap } from './GlanceMap'

type Name = PlacesView['names'][number]
type Decided = LocateIn['decided'][number]

const STATUSES = ['exact', 'approximate', 'ambiguous', 'not found', 'by hand', 'left out'] as const
type Status = (typeof STATUSES)[number]
const MOST_OPTIONS = 20

interface Props {
  view: PlacesView
  decided: LocateIn['decided']
  gazetteer: Dataset
  nameField: string
  onDecided: (decided: LocateIn['decided']) => void
}

/** What came of the names, by how sure it is; each that is not exact can be settled by hand. */
export function FoundNames({ view, decided, gazetteer, nameField, onDecided }: Props) {
  const [chosen, setChosen] = useState<Status | null>(null)
  const first = STATUSES.find((status) => status !== 'exact' && (view.counts[status] ?? 0) > 0) ?? 'exact'
  const shown = chosen && (view.counts[chosen] ?? 0) > 0 ? chosen : first
  const names = view.names.filter(({ status }) => status === shown)
  const same = (one: Decided, name: Name) => one.name === name.name && one.region === name.region
  const decide = (name: Name, what: Pick<Decided, 'place' | 'at'> | null) =>
    onDecided([
      ...decided.filter((decision) => !same(decision, name)),
      ...(what ? [{ name: name.name, region: name.region, ...what }] : []),
    ])
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, minWidth: 0 }}>
      <Box role="group" aria-label="What came of the names" sx={{ display: 'flex', flexWrap: 'wrap', px: 2, py: 0.5 }}>
        {STATUSES.filter((status) => (view.counts[status] ?? 0) > 0).map((status) => (
          <ButtonBase
            key={status}
            aria-pressed={status === shown}
            onClick={() => setChosen(status)}
            sx={{
              px: 1,
              height: 28,
              fontSize: 13,
              borderBottom: 2,
              borderColor: status === shown ? 'primary.main' : 'transparent',
            }}
          >
            <b style={{ marginRight: 6 }}>{(view.counts[status] ?? 0).toLocaleString('en')}</b> {status}
          </ButtonBase>
        ))}
      </Box>
      <Box sx={{ overflow: 'auto', px: 2, flex: 1 }}>
        {shown === 'exact' && (
          <Typography variant="body2" color="text.secondary" sx={{ py: 1 }}>
            {view.counts.exact === view.rows
              ? 'Every row is found by its very name.'
              : 'These rows are found by their very names; there is nothing to decide.'}
          </Typography>
        )}
        {names.map((name) => (
          <OneName
            key={`${name.name}|${name.region}`}
            name={name}
            gazetteer={gazetteer}
            nameField={nameField}
            onDecide={(what) => decide(name, what)}
          />
        ))}
      </Box>
    </Box>
  )
}

/** Where the places lie that were found. */
export function FoundOnMap({ view, gazetteer }: Pick<Props, 'view' | 'gazetteer'>) {
  const points = view.dots.map(({ at }) => at)
  return (
    <GlanceMap
      label="Where the places are that were found"
      glance={{ bounds: boundsOf(points), points, lines: [] }}
      others={[gazetteer]}
    />
  )
}

interface OneNameProps {
  name: Name
  gazetteer: Dataset
  nameField: string
  onDecide: (what: Pick<Decided, 'place' | 'at'> | null) => void
}

function OneName({ name, gazetteer, nameField, onDecide }: OneNameProps) {
  const [placing, setPlacing] = useState(false)
  const settled = name.status === 'by hand' || name.status === 'left out'
  const place = async () => {
    setPlacing(true)
    if (gazetteer.bounds) void fitTo(gazetteer.bounds)
    const at = await nextPlace()
    setPlacing(false)
    if (at) onDecide({ at: [at.lon, at.lat] })
  }
  return (
    <Box
      data-testid="found-name"
      sx={{
        display: 'grid',
        gridTemplateColumns: '118px minmax(0, 1fr)',
        gap: 1,
        alignItems: 'center',
        py: 0.5,
        borderTop: 1,
        borderColor: 'line',
      }}
    >
      <Typography variant="body2" title={name.name} sx={{ overflowWrap: 'anywhere' }}>
        <b>{name.name || '(blank)'}</b>
        <Typography component="span" variant="caption" color="text.secondary" sx={{ display: 'block' }}>
          {[name.region, name.rows > 1 && counted(name.rows, 'row')].filter(Boolean).join(' · ')}
        </Typography>
      </Typography>
      <Box sx={{ display: 'flex', gap: 0.5, flexWrap: 'wrap' }}>
        {name.candidates.map((candidate) => (
          <Button
            key={candidate.place}
            variant="outlined"
            onClick={() => onDecide({ place: candidate.place })}
            sx={{ fontWeight: 400, whiteSpace: 'nowrap' }}
          >
            {candidate.name}
            <Box component="span" sx={{ ml: 0.75, fontSize: 11.5, color: 'text.secondary' }}>
              {[
                candidate.region,
                candidate.likeness < 100 && `${Math.round(candidate.likeness)} % alike`,
                candidate.kilometres != null && `${Math.round(candidate.kilometres)} km off`,
              ]
                .filter(Boolean)
                .join(' · ')}
            </Box>
          </Button>
        ))}
        <AnotherPlace
          name={name.name}
          gazetteer={gazetteer}
          field={nameField}
          onPlace={(fid) => onDecide({ place: fid })}
        />
        <Button size="small" onClick={() => void place()}>
          {placing ? 'Press a place' : 'On the map'}
        </Button>
        {settled ? (
          <Button size="small" onClick={() => onDecide(null)}>
            Open it again
          </Button>
        ) : (
          <Button size="small" onClick={() => onDecide({})}>
            Leave out
          </Button>
        )}
      </Box>
    </Box>
  )
}

interface AnotherPlaceProps {
  name: string
  gazetteer: Dataset
  field: string
  onPlace: (fid: number) => void
}

/** Another name typed: places of the gazetteer that have it within their names. */
function AnotherPlace({ name, gazetteer, field, onPlace }: AnotherPlaceProps) {
  const [typed, setTyped] = useState('')
  const at = gazetteer.fields.findIndex((each) => each.name === field)
  const candidates = useQuery({
    queryKey: ['places-like', gazetteer.revision, field, typed],
    queryFn: async () => {
      const where = `CASEI("${field}") LIKE CASEI('%${typed.replaceAll("'", "''")}%')`
      const query = { where, limit: MOST_OPTIONS, sort: field }
      const rows = await answered(
        client.GET('/api/datasets/{dataset_id}/rows', { params: { path: { dataset_id: gazetteer.id }, query } }),
      )
      return rows.rows.map((row) => ({ fid: Number(row[0]), label: String(row[at + 1]) }))
    },
    enabled: typed.trim().length > 1,
    staleTime: 60_000,
  })
  return (
    <Autocomplete
      options={candidates.data ?? []}
      filterOptions={(options) => options}
      getOptionKey={({ fid }) => fid}
      inputValue={typed}
      onInputChange={(_, text) => setTyped(text)}
      onChange={(_, place) => place && onPlace(place.fid)}
      noOptionsText={typed.trim().length > 1 ? 'No such place' : 'Type two letters'}
      size="small"
      renderInput={(params) => (
        <TextField
          {...params}
          placeholder="another place"
          slotProps={{
            ...params.slotProps,
            htmlInput: { ...params.slotProps.htmlInput, 'aria-label': `Another place for ${name}` },
          }}
        />
      )}
      sx={{ width: 150, '& .MuiOutlinedInput-root': { p: '0 6px' } }}
    />
  )
}

/** The box around points; around (0, 0) where there are none. */
export function boundsOf(points: readonly (readonly number[])[]): number[] {
  if (points.length === 0) return [-1, -1, 1, 1]
  const xs = points.map(([x = 0]) => x)
  const ys = points.map(([, y = 0]) => y)
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys)]
}
