import { useState } from 'react'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset, JoinIn } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { useDatasets } from '../sheet/queries'
import { CrossLists } from './CrossLists'
import { Unmatched } from './Unmatched'

/** A table to areas by key: the match from both sides, doubts settled one by one, then joined. */
export function JoinPanel({ onDone }: { onDone: () => void }) {
  const datasets = useDatasets()
  const shaped = datasets.filter((dataset) => dataset.kind !== 'raster' && dataset.kind !== 'table' && !dataset.join)
  const tables = datasets.filter((dataset) => dataset.kind === 'table')
  const [areasId, setAreas] = useState<string>('')
  const [tableId, setTable] = useState<string>('')
  const areas =
    shaped.find((dataset) => dataset.id === areasId) ?? shaped.find((dataset) => dataset.kind === 'areas') ?? shaped[0]
  const table =
    tables.find((candidate) => candidate.id === tableId) ??
    tables.find((candidate) => candidate.fields.some((f) => f.type === 'number')) ??
    tables[0]
  if (!areas || !table)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
        A join needs areas (or points) and a table without shapes. Bring both in first; a CSV stays a table when its
        coordinates are set to “no coordinates”.
      </Typography>
    )
  return (
    <JoinOf
      key={`${areas.id} ${table.id}`}
      areas={areas}
      table={table}
      shaped={shaped}
      tables={tables}
      onAreas={setAreas}
      onTable={setTable}
      onDone={onDone}
    />
  )
}

interface JoinProps {
  areas: Dataset
  table: Dataset
  shaped: Dataset[]
  tables: Dataset[]
  onAreas: (id: string) => void
  onTable: (id: string) => void
  onDone: () => void
}

function JoinOf({ areas, table, shaped, tables, onAreas, onTable, onDone }: JoinProps) {
  const queries = useQueryClient()
  const [join, setJoin] = useState<JoinIn>(() => {
    const tableKey = table.fields.find((f) => f.type === 'text')?.name ?? table.fields[0]?.name ?? ''
    const areaKey =
      areas.fields.find((f) => f.name === tableKey)?.name ??
      areas.fields.find((f) => /name/i.test(f.name))?.name ??
      areas.fields[0]?.name ??
      ''
    return {
      areas: areas.id,
      table: table.id,
      area_key: areaKey,
      table_key: tableKey,
      same: {},
      chosen: {},
      fields: table.fields.filter((f) => f.name !== tableKey).map((f) => f.name),
      title: '',
    }
  })
  const [list, setList] = useState<string | null>(null)
  const view = useQuery({
    queryKey: ['join', join.areas, join.table, join.area_key, join.table_key, join.same, join.chosen],
    queryFn: () => answered(client.POST('/api/joins/look', { body: join })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const keep = useMutation({
    mutationFn: () => answered(client.POST('/api/joins', { body: join })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['datasets'] })
      onDone()
    },
  })
  const set = (values: Partial<JoinIn>) => setJoin({ ...join, ...values })
  const options = (list: Dataset[]) => list.map((dataset) => [dataset.id, dataset.title] as const)
  const keys = (dataset: Dataset) => dataset.fields.map((f) => [f.name, f.name] as const)
  const matched = view.data?.matched ?? 0
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '290px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto', borderRight: 1, borderColor: 'line' }}>
        <Choice label="Join to" value={areas.id} options={options(shaped)} onChange={onAreas} />
        <Choice
          label="by its field"
          value={join.area_key}
          options={keys(areas)}
          onChange={(area_key) => set({ area_key, same: {}, chosen: {} })}
        />
        <Choice label="the table" value={table.id} options={options(tables)} onChange={onTable} />
        <Choice
          label="by its field"
          value={join.table_key}
          options={keys(table)}
          onChange={(table_key) => set({ table_key, same: {}, chosen: {} })}
        />
        <Labelled label="taking along">
          <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
            {table.fields
              .filter((f) => f.name !== join.table_key)
              .map((f) => (
                <label key={f.name} style={{ fontSize: 12.5 }}>
                  <input
                    type="checkbox"
                    checked={join.fields.includes(f.name)}
                    onChange={(e) =>
                      set({
                        fields: e.target.checked
                          ? [...join.fields, f.name]
                          : join.fields.filter((field) => field !== f.name),
                      })
                    }
                  />{' '}
                  {f.name}
                </label>
              ))}
          </Box>
        </Labelled>
        <CrossLists
          entries={Object.entries(join.same).map(([spelling, means]) => ({
            spelling,
            means,
            region: '',
            means_region: '',
          }))}
          used={list}
          onUse={(used) => {
            setList(used?.id ?? null)
            const pairs = (used?.entries ?? []).filter(({ at }) => !at)
            set({ same: Object.fromEntries(pairs.map(({ spelling, means = '' }) => [spelling, means])) })
          }}
        />
        <Button
          variant="contained"
          disabled={matched === 0 || keep.isPending || !join.fields.length}
          onClick={() => keep.mutate()}
          sx={{ mt: 1 }}
        >
          Join {matched.toLocaleString('en')} rows
        </Button>
        {(view.error ?? keep.error) && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
            {(view.error ?? keep.error)?.message}
          </Typography>
        )}
      </Box>
      {view.data && <Unmatched view={view.data} join={join} onChange={set} />}
    </Box>
  )
}
