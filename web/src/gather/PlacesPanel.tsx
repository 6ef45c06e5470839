import { useState } from 'react'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { CrossEntry, Dataset, LocateIn, NameFields, PlacesView } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { addLayer } from '../sheet/layerActions'
import { fitTo } from '../sheet/mapBridge'
import { useDatasets } from '../sheet/queries'
import { CrossLists } from './CrossLists'
import { FoundNames, FoundOnMap } from './FoundNames'
import { useGather } from './gatherState'
import { Waiting } from './Waiting'

const NONE = ' '

/** Rows of a table put where their names are, by a gazetteer of the library. */
export function PlacesPanel({ onDone }: { onDone: () => void }) {
  const datasets = useDatasets().filter(({ kind }) => kind !== 'raster')
  const [tableId, setTable] = useState('')
  const [gazetteerId, setGazetteer] = useState('')
  const arrived = useGather((s) => s.arrived)
  const tables = datasets.filter(({ fields }) => fields.some(({ type }) => type === 'text'))
  const gazetteers = tables.filter(({ kind }) => kind !== 'table')
  const table =
    tables.find(({ id }) => id === tableId) ??
    tables.find(({ id, kind }) => id === arrived && kind === 'table') ??
    tables.find(({ kind }) => kind === 'table')
  const gazetteer =
    gazetteers.find(({ id }) => id === gazetteerId) ??
    gazetteers.find(({ title }) => /gazetteer|places/i.test(title)) ??
    gazetteers[0]
  if (!table || !gazetteer)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
        To find places by name, bring in a table with a column of names, and points or areas that have names.
      </Typography>
    )
  return (
    <Guessed
      key={`${table.id} ${gazetteer.id}`}
      table={table}
      gazetteer={gazetteer}
      tables={tables}
      gazetteers={gazetteers}
      onTable={setTable}
      onGazetteer={setGazetteer}
      onDone={onDone}
    />
  )
}

/** The fields are guessed by the names that both have, before anything is looked up. */
function Guessed(props: Omit<PlacesProps, 'fields'>) {
  const { table, gazetteer } = props
  const guess = useQuery({
    queryKey: ['name-fields', table.revision, gazetteer.revision],
    queryFn: () => answered(client.POST('/api/places/fields', { body: { table: table.id, gazetteer: gazetteer.id } })),
    staleTime: Infinity,
  })
  if (!guess.data) return <Waiting words="Looking which fields hold the names …" error={guess.error} />
  return <PlacesOf {...props} fields={guess.data} />
}

interface PlacesProps {
  fields: NameFields
  table: Dataset
  gazetteer: Dataset
  tables: Dataset[]
  gazetteers: Dataset[]
  onTable: (id: string) => void
  onGazetteer: (id: string) => void
  onDone: () => void
}

function PlacesOf({ fields, table, gazetteer, tables, gazetteers, onTable, onGazetteer, onDone }: PlacesProps) {
  const queries = useQueryClient()
  const [asked, setAsked] = useState<LocateIn>(() => ({
    table: table.id,
    name: fields.name,
    region: fields.region,
    within: '',
    gazetteer: gazetteer.id,
    gazetteer_name: fields.gazetteer_name,
    gazetteer_region: fields.gazetteer_region,
    others: '',
    cross_list: null,
    decided: [],
    title: '',
  }))
  const view = useQuery({
    queryKey: ['places', asked],
    queryFn: () => answered(client.POST('/api/places/look', { body: asked })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const keep = useMutation({
    mutationFn: () => answered(client.POST('/api/places', { body: asked })),
    onSuccess: async (placed) => {
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      await addLayer(placed)
      if (placed.bounds) await fitTo(placed.bounds)
      onDone()
    },
  })
  // What was decided of other names says nothing of these.
  const ask = (values: Partial<LocateIn>) => setAsked({ ...asked, ...values, decided: [] })
  const counts = view.data?.counts ?? {}
  const placed = ['exact', 'approximate', 'by hand'].reduce((sum, status) => sum + (counts[status] ?? 0), 0)
  const trouble = view.error ?? keep.error
  const optional = (dataset: Dataset): [string, string][] => [[NONE, 'none'], ...textFields(dataset)]
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '304px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
      <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, borderRight: 1, borderColor: 'line' }}>
        <Box sx={{ p: 2, pl: 3, pt: 1, overflow: 'auto', flex: 1 }}>
          <Choice label="Rows of" value={table.id} options={titles(tables)} onChange={onTable} />
          <Choice label="named by" value={asked.name} options={textFields(table)} onChange={(name) => ask({ name })} />
          <Choice
            label="in regions of"
            value={asked.region || NONE}
            options={optional(table)}
            onChange={(region) => ask({ region: region === NONE ? '' : region, within: '' })}
          />
          {!asked.region && (
            <Labelled label="or all within">
              <InputBase
                key={asked.within}
                defaultValue={asked.within}
                placeholder="one region"
                onBlur={(e) => e.target.value.trim() !== asked.within && ask({ within: e.target.value.trim() })}
                onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
                inputProps={{ 'aria-label': 'The region of all rows' }}
                sx={{ flex: 1, fontSize: 12.5, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
              />
            </Labelled>
          )}
          <Choice label="looked up in" value={gazetteer.id} options={titles(gazetteers)} onChange={onGazetteer} />
          <Choice
            label="by its names"
            value={asked.gazetteer_name}
            options={textFields(gazetteer)}
            onChange={(name) => ask({ gazetteer_name: name })}
          />
          <Choice
            label="its regions"
            value={asked.gazetteer_region || NONE}
            options={optional(gazetteer)}
            onChange={(name) => ask({ gazetteer_region: name === NONE ? '' : name })}
          />
          <Choice
            label="other names"
            value={asked.others || NONE}
            options={optional(gazetteer)}
            onChange={(name) => ask({ others: name === NONE ? '' : name })}
          />
          <CrossLists
            entries={entriesOf(asked, view.data)}
            used={asked.cross_list ?? null}
            // What was settled by hand is in the list, or is settled anew.
            onUse={(list) => setAsked({ ...asked, cross_list: list?.id ?? null, decided: [] })}
          />
          {view.data && (
            <Box sx={{ mt: 1 }}>
              <FoundOnMap view={view.data} gazetteer={gazetteer} />
            </Box>
          )}
        </Box>
        <Box sx={{ px: 2, pl: 3, py: 1, borderTop: 1, borderColor: 'line' }}>
          {trouble && (
            <Typography role="alert" variant="body2" sx={{ color: 'error.main', mb: 1 }}>
              {trouble.message}
            </Typography>
          )}
          <Button variant="contained" disabled={placed === 0 || keep.isPending} onClick={() => keep.mutate()}>
            Put {placed.toLocaleString('en')} rows on the map
          </Button>
        </Box>
      </Box>
      {view.data ? (
        <FoundNames
          view={view.data}
          decided={asked.decided}
          gazetteer={gazetteer}
          nameField={asked.gazetteer_name}
          onDecided={(decided) => setAsked({ ...asked, decided })}
        />
      ) : (
        <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
          {view.error ? '' : 'Looking the names up …'}
        </Typography>
      )}
    </Box>
  )
}

const titles = (datasets: Dataset[]) => datasets.map(({ id, title }) => [id, title] as const)

const textFields = (dataset: Dataset): [string, string][] =>
  dataset.fields.filter(({ type }) => type === 'text').map(({ name }) => [name, name])

/** What was decided by hand, by the names of the places: so it can be used with another state of the gazetteer too. */
export function entriesOf(asked: LocateIn, view: PlacesView | undefined): CrossEntry[] {
  return asked.decided.flatMap<CrossEntry>(({ name, region = '', place, at }) => {
    if (at) return [{ spelling: name, region, means: '', means_region: '', at }]
    if (place == null) return [{ spelling: name, region, means: '', means_region: '', at: null }]
    const of = view?.names.find((each) => each.name === name && each.region === region)
    const meant = of?.candidates.find((candidate) => candidate.place === place)
    return meant ? [{ spelling: name, region, means: meant.name, means_region: meant.region, at: null }] : []
  })
}
