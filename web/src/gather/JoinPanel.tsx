import { useState } from 'react'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, JoinIn } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'
import { useDatasets } from '../sheet/queries'
import { CrossLists } from './CrossLists'
import { useGather } from './gatherState'
import { MoreKeys, summedUp, TakenAlong } from './JoinFields'
import { Unmatched } from './Unmatched'
import { Waiting } from './Waiting'

/** Rows to areas, by key or by place: the match from both sides, doubts settled one by one, then joined. */
export function JoinPanel({ onDone }: { onDone: () => void }) {
  const datasets = useDatasets()
  const [chosen, choose] = useState<{ areas?: string; table?: string }>({})
  const arrived = useGather((s) => s.arrived)
  const guess = useQuery({
    queryKey: ['join-begun', chosen, arrived, datasets.map(({ revision }) => revision)],
    queryFn: () => answered(client.POST('/api/joins/begun', { body: { ...chosen, arrived } })),
    staleTime: Infinity,
    retry: false,
  })
  const shaped = datasets.filter((dataset) => dataset.kind !== 'raster' && dataset.kind !== 'table' && !dataset.join)
  const tables = datasets.filter((dataset) => dataset.kind !== 'raster' && !dataset.join)
  const areas = shaped.find(({ id }) => id === guess.data?.areas)
  const table = tables.find(({ id }) => id === guess.data?.table)
  if (!guess.data || !areas || !table)
    return <Waiting words="Looking which fields hold the same …" error={guess.error} />
  return (
    <JoinOf
      key={`${areas.id} ${table.id}`}
      begun={guess.data}
      areas={areas}
      table={table}
      shaped={shaped}
      tables={tables}
      onAreas={(id) => choose(id === table.id ? { areas: id } : { areas: id, table: table.id })}
      onTable={(id) => choose({ areas: areas.id, table: id })}
      onDone={onDone}
    />
  )
}

interface JoinProps {
  begun: JoinIn
  areas: Dataset
  table: Dataset
  shaped: Dataset[]
  tables: Dataset[]
  onAreas: (id: string) => void
  onTable: (id: string) => void
  onDone: () => void
}

function JoinOf({ begun, areas, table, shaped, tables, onAreas, onTable, onDone }: JoinProps) {
  const queries = useQueryClient()
  const [join, setJoin] = useState<JoinIn>(begun)
  const [list, setList] = useState<string | null>(null)
  const view = useQuery({
    queryKey: ['join', { ...join, title: '', fields: [] }],
    queryFn: () => answered(client.POST('/api/joins/look', { body: { ...join, fields: Object.keys(join.summarise) } })),
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
  const most = limits.JoinIn.more_keys.most
  const another = useMutation({
    mutationFn: () => answered(client.POST('/api/joins/key', { body: join })),
    onSuccess: (pair) => anew({ more_keys: [...join.more_keys, pair] }),
  })
  const trouble = view.error ?? keep.error ?? another.error
  const set = (values: Partial<JoinIn>) => setJoin({ ...join, ...values })
  const anew = (values: Partial<JoinIn>) => set({ ...values, same: {}, chosen: {} })
  const options = (datasets: Dataset[]) => datasets.map((dataset) => [dataset.id, dataset.title] as const)
  const keys = (dataset: Dataset) => dataset.fields.map((f) => [f.name, f.name] as const)
  const matched = view.data?.matched ?? 0
  const placed = table.kind !== 'table'
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '304px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
      <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, borderRight: 1, borderColor: 'line' }}>
        <Box sx={{ p: 2, pl: 3, pt: 1, overflow: 'auto', flex: 1 }}>
          <Choice label="Join to" value={areas.id} options={options(shaped)} onChange={onAreas} />
          <Choice
            label="the rows of"
            value={table.id}
            options={options(tables.filter(({ id }) => id !== areas.id))}
            onChange={onTable}
          />
          {placed && (
            <Choice
              label="by"
              value={join.by}
              options={
                [
                  ['key', 'a key that both have'],
                  ['place', 'where they lie'],
                ] as const
              }
              onChange={(by) => anew({ by, summarise: by === 'place' ? summedUp(table, join.fields) : {} })}
            />
          )}
          {join.by === 'key' ? (
            <>
              <Choice
                label="key of these"
                value={join.area_key}
                options={keys(areas)}
                onChange={(area_key) => anew({ area_key })}
              />
              <Choice
                label="key of those"
                value={join.table_key}
                options={keys(table)}
                onChange={(table_key) => anew({ table_key })}
              />
              {join.more_keys.map((pair, i) => (
                <MoreKeys
                  key={i}
                  pair={pair}
                  areas={areas}
                  table={table}
                  onChange={(next) =>
                    anew({ more_keys: join.more_keys.flatMap((each, at) => (at !== i ? [each] : next ? [next] : [])) })
                  }
                />
              ))}
              {join.more_keys.length < most && (
                <Button size="small" disabled={another.isPending} onClick={() => another.mutate()}>
                  One more key that has to agree
                </Button>
              )}
            </>
          ) : (
            <Labelled label="nearest up to">
              <EditableNumber
                label="Kilometres to the nearest, 0 for those within only"
                value={join.nearest_km ?? 0}
                onChange={(km) => anew({ nearest_km: withinOrNone(limits.JoinIn.nearest_km, km) })}
                width={60}
              />
              <span style={{ fontSize: 12.5 }}>km; 0: within only</span>
            </Labelled>
          )}
          <Choice
            label="several rows"
            value={Object.keys(join.summarise).length > 0 ? 'summed' : 'one'}
            options={
              [
                ['one', 'one of them is right'],
                ['summed', 'are summed up'],
              ] as const
            }
            onChange={(how) => set({ chosen: {}, summarise: how === 'summed' ? summedUp(table, join.fields) : {} })}
          />
          <TakenAlong table={table} join={join} onChange={set} />
          {join.by === 'key' && (
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
          )}
        </Box>
        <Box sx={{ px: 2, pl: 3, py: 1, borderTop: 1, borderColor: 'line' }}>
          {trouble && (
            <Typography role="alert" variant="body2" sx={{ color: 'error.main', mb: 1 }}>
              {trouble.message}
            </Typography>
          )}
          <Button
            variant="contained"
            disabled={matched === 0 || keep.isPending || !join.fields.length}
            onClick={() => keep.mutate()}
          >
            {join.by === 'place'
              ? `Join to ${matched.toLocaleString('en')} areas`
              : `Join ${matched.toLocaleString('en')} rows`}
          </Button>
        </Box>
      </Box>
      {view.data ? (
        <Unmatched view={view.data} join={join} onChange={set} />
      ) : (
        view.isFetching && <Waiting words="Comparing both sides …" />
      )}
    </Box>
  )
}
