import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { sizeOf } from '../wording'
import type { Dataset } from '../api/types'
import { Glyph } from '../Glyph'
import { EditableText } from '../key/EditableText'
import { addLayer } from '../sheet/layerActions'
import { fitTo } from '../sheet/mapBridge'
import { useDatasets } from '../sheet/queries'
import { useSheet } from '../sheet/store'

/** All datasets of a person, with where they come from. */
export function LibraryPanel({ onImport, onTable }: { onImport: () => void; onTable: (id: string) => void }) {
  const datasets = useDatasets()
  const [wanted, setWanted] = useState('')
  const fits = (dataset: Dataset) =>
    `${dataset.title} ${dataset.kind} ${dataset.source} ${dataset.fields.map((f) => f.name).join(' ')}`
      .toLowerCase()
      .includes(wanted.toLowerCase())
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
        <Box sx={{ flex: 1 }} />
        <Button variant="outlined" onClick={onImport}>
          Bring in a file
        </Button>
      </Box>
      <Box sx={{ overflow: 'auto', flex: 1 }}>
        {datasets.length === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
            The library is empty. Bring in a CSV, a GeoJSON, a zipped Shapefile or a GeoTIFF.
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
            {datasets.filter(fits).map((dataset) => (
              <LibraryRow key={dataset.id} dataset={dataset} onTable={onTable} />
            ))}
          </tbody>
        </Box>
      </Box>
    </>
  )
}

function LibraryRow({ dataset, onTable }: { dataset: Dataset; onTable: (id: string) => void }) {
  const queries = useQueryClient()
  const datasets = useDatasets()
  const used = useSheet((s) => s.document?.layers.some((layer) => layer.dataset === dataset.id) ?? false)
  const empty = useSheet((s) => (s.document?.layers.length ?? 0) === 0)
  const refresh = () => queries.invalidateQueries({ queryKey: ['datasets'] })
  const change = useMutation({
    mutationFn: (body: { title?: string; source?: string; credit?: string }) =>
      answered(client.PATCH('/api/datasets/{dataset_id}', { params: { path: { dataset_id: dataset.id } }, body })),
    onSuccess: refresh,
  })
  const remove = useMutation({
    mutationFn: () =>
      answered(client.DELETE('/api/datasets/{dataset_id}', { params: { path: { dataset_id: dataset.id } } })),
    onSuccess: refresh,
    onError: (error) => window.alert(error.message),
  })
  return (
    <Box component="tr" data-testid="dataset" sx={{ '&:hover': { bgcolor: 'tint' } }}>
      <td style={{ width: '22%' }}>
        <EditableText
          label={`Title of ${dataset.title}`}
          value={dataset.title}
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
      </Box>
      <td style={{ width: '34%' }}>
        <EditableText
          label={`Source of ${dataset.title}`}
          value={dataset.source || ''}
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
            addLayer(dataset, datasets)
            if (empty && dataset.bounds) void fitTo(dataset.bounds)
          }}
        >
          {used ? 'Draw again' : 'Draw'}
        </Button>
        <Tooltip title="Remove from the library">
          <IconButton
            aria-label={`Remove ${dataset.title} from the library`}
            onClick={() => window.confirm(`Remove '${dataset.title}' from the library for good?`) && remove.mutate()}
          >
            <Glyph name="remove" />
          </IconButton>
        </Tooltip>
      </td>
    </Box>
  )
}
