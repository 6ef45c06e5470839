import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import { sizeOf } from '../wording'
import type { Dataset } from '../api/types'
import { Check } from '../bench/Check'
import { PlainSelect } from '../bench/PlainSelect'
import { EditableText } from '../key/EditableText'
import { useMe } from '../people/queries'
import { addLayer } from '../sheet/layerActions'
import { fitTo } from '../sheet/mapBridge'
import { useDatasets } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { DatasetDialog } from './DatasetDialog'
import { PlaceFilter } from './PlaceFilter'
import { ANYTHING, choices, ranked } from './ranking'

const KINDS = ['areas', 'lines', 'points', 'table', 'raster'] as const

/** All datasets of a person, with where they come from. */
export function LibraryPanel({ onImport, onTable }: { onImport: () => void; onTable: (id: string) => void }) {
  const datasets = useDatasets()
  const [wanted, setWanted] = useState('')
  const [asked, ask] = useState(ANYTHING)
  const shown = ranked(datasets, wanted, asked)
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, px: 3, py: 1, borderBottom: 1, borderColor: 'line', alignItems: 'center' }}>
        <InputBase
          value={wanted}
          onChange={(e) => setWanted(e.target.value)}
          placeholder="Title, kind, field or source"
          inputProps={{ 'aria-label': 'Search the library' }}
          sx={{
            flex: 1,
            fontSize: 13,
            border: 1,
            borderColor: 'line',
            bgcolor: 'raised',
            px: 1,
            height: 26,
            maxWidth: 320,
          }}
        />
        <Narrow
          label="Kind of dataset"
          every="all kinds"
          value={asked.kind}
          values={KINDS}
          onChange={(kind) => ask({ ...asked, kind })}
        />
        <Narrow
          label="Owner"
          every="everybody's"
          value={asked.owner}
          values={choices(datasets, 'owner')}
          onChange={(owner) => ask({ ...asked, owner })}
        />
        <Narrow
          label="Terms of use"
          every="all terms"
          value={asked.licence}
          values={choices(datasets, 'licence')}
          onChange={(licence) => ask({ ...asked, licence })}
        />
        {datasets.some(({ vetted }) => vetted) && (
          <Check label="vetted" checked={asked.vetted} onChange={(vetted) => ask({ ...asked, vetted })} />
        )}
        <PlaceFilter datasets={datasets} place={asked.place} onPlace={(place) => ask({ ...asked, place })} />
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onImport}>
          Bring in a file
        </Button>
      </Box>
      <Box sx={{ overflow: 'auto', flex: 1 }}>
        {datasets.length === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
            The library is empty. Bring in a table, a file of shapes or a GeoTIFF.
          </Typography>
        )}
        {datasets.length > 0 && shown.length === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
            Nothing in the library is so. Fewer words find more.
          </Typography>
        )}
        <Box
          component="table"
          sx={{
            width: '100%',
            borderCollapse: 'collapse',
            fontSize: 13,
            '& td': { borderBottom: 1, borderColor: 'line', py: 0.5, px: 1.5 },
          }}
        >
          <tbody>
            {shown.map((dataset) => (
              <LibraryRow key={dataset.id} dataset={dataset} onTable={onTable} />
            ))}
          </tbody>
        </Box>
      </Box>
    </>
  )
}

interface NarrowProps {
  label: string
  /** What is said where nothing is chosen. */
  every: string
  value: string
  values: readonly string[]
  onChange: (value: string) => void
}

/** One choice among what a library has; nothing where there is no choice. */
function Narrow({ label, every, value, values, onChange }: NarrowProps) {
  if (values.length < 2 && !value) return null
  return (
    <PlainSelect
      label={label}
      value={value}
      options={[['', every] as const, ...values]}
      onChange={onChange}
      sx={{ maxWidth: 140 }}
    />
  )
}

function LibraryRow({ dataset, onTable }: { dataset: Dataset; onTable: (id: string) => void }) {
  const queries = useQueryClient()
  const used = useSheet((s) => s.document?.layers.some((layer) => layer.dataset === dataset.id) ?? false)
  const empty = useSheet((s) => (s.document?.layers.length ?? 0) === 0)
  const refresh = () => queries.invalidateQueries({ queryKey: ['datasets'] })
  const change = useMutation({
    mutationFn: (body: { title?: string; source?: string; credit?: string }) =>
      answered(client.PATCH('/api/datasets/{dataset_id}', { params: { path: { dataset_id: dataset.id } }, body })),
    onSuccess: refresh,
  })
  const [open, setOpen] = useState(false)
  const me = useMe()?.name
  const may = dataset.may.includes('change')
  return (
    <Box component="tr" data-testid="dataset" sx={{ '&:hover': { bgcolor: 'tint' } }}>
      <td style={{ width: '22%' }}>
        <EditableText
          label={`Title of ${dataset.title}`}
          most={limits.DatasetChange.title.most}
          value={dataset.title}
          locked={!may}
          onChange={(title) => change.mutate({ title })}
          sx={{ fontWeight: 600, width: '100%' }}
        />
      </td>
      <td style={{ whiteSpace: 'nowrap' }}>{dataset.kind}</td>
      <td style={{ whiteSpace: 'nowrap' }}>{sizeOf(dataset)}</td>
      <Box
        component="td"
        title={[dataset.crs, dataset.crs_reason, ...dataset.notes].filter(Boolean).join('\n')}
        sx={{ whiteSpace: 'nowrap', color: 'text.secondary' }}
      >
        {dataset.crs.split(' · ')[0] || 'no place'}
        {dataset.notes.length > 0 ? ' · see notes' : ''}
        {dataset.owner !== me && ` · of ${dataset.owner}`}
        {dataset.vetted && ' · vetted'}
        {dataset.parents_changed && (
          <Button
            size="small"
            title="What it was joined from has changed: its table joins it anew"
            onClick={() => onTable(dataset.id)}
            sx={{ ml: 0.5, py: 0 }}
          >
            to be joined anew
          </Button>
        )}
      </Box>
      <td style={{ width: '34%' }}>
        <EditableText
          label={`Source of ${dataset.title}`}
          most={limits.DatasetChange.source.most}
          value={dataset.source || ''}
          locked={!may}
          onChange={(source) => change.mutate({ source })}
          sx={{ width: '100%', '& input::placeholder': { color: 'error.main', opacity: 1 } }}
        />
      </td>
      <td style={{ whiteSpace: 'nowrap', textAlign: 'right' }}>
        {dataset.kind !== 'raster' && (
          <Button aria-label={`Table of ${dataset.title}`} onClick={() => onTable(dataset.id)} sx={{ mr: 1 }}>
            Table
          </Button>
        )}
        <Button
          variant="outlined"
          disabled={dataset.kind === 'table'}
          aria-label={`${used ? 'Draw again' : 'Draw'} ${dataset.title}`}
          onClick={() => {
            void addLayer(dataset)
            if (empty && dataset.bounds) void fitTo(dataset.bounds)
          }}
        >
          {used ? 'Draw again' : 'Draw'}
        </Button>
        <Button aria-label={`About ${dataset.title}`} onClick={() => setOpen(true)} sx={{ ml: 1 }}>
          About
        </Button>
        {open && <DatasetDialog dataset={dataset} onClose={() => setOpen(false)} />}
      </td>
    </Box>
  )
}
