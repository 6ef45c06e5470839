import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { Labelled } from '../bench/Labelled'
import { about } from '../fields'
import { EditableText } from '../key/EditableText'
import { useMe } from '../people/queries'
import { ShareDialog } from '../people/ShareDialog'
import { Vetted } from '../people/Vetted'
import { useDatasets } from '../sheet/queries'
import { counted, momentOf, sizeOf } from '../wording'
import { CutDialog } from './CutDialog'
import { Origin } from './Origin'
import { type Bounds, GlanceMap, outline } from './GlanceMap'

interface Props {
  dataset: Dataset
  onClose: () => void
}

const SAID = { source: 'Source', credit: 'Credit', licence: 'Terms of use', dated: 'Date' } as const
type Said = keyof typeof SAID

/** All that is known of a dataset before it is used: where it lies and comes from, what is in it, who uses it. */
export function DatasetDialog({ dataset, onClose }: Props) {
  const queries = useQueryClient()
  const datasets = useDatasets()
  const me = useMe()?.name
  const [sharing, setSharing] = useState(false)
  const [cutting, setCutting] = useState(false)
  const refresh = () => queries.invalidateQueries({ queryKey: ['datasets'] })
  const path = { dataset_id: dataset.id }
  const uses = useQuery({
    queryKey: ['uses', dataset.id],
    queryFn: () => answered(client.GET('/api/datasets/{dataset_id}/uses', { params: { path } })),
  })
  const change = useMutation({
    mutationFn: (body: Partial<Record<Said, string>>) =>
      answered(client.PATCH('/api/datasets/{dataset_id}', { params: { path }, body })),
    onSuccess: refresh,
  })
  const remove = useMutation({
    mutationFn: () => answered(client.DELETE('/api/datasets/{dataset_id}', { params: { path } })),
    onSuccess: async () => {
      await refresh()
      onClose()
    },
  })
  const bounds = dataset.bounds
  const { sheets = [], editions = [], joined = [] } = uses.data ?? {}
  const used = [
    ...sheets.map(({ title }) => `drawn in “${title}”`),
    ...editions.map(({ sheet, number }) => `in edition ${number} of “${sheet}”, which keeps it`),
    ...joined.map((title) => `joined into “${title}”`),
  ]
  const trouble = change.error ?? remove.error
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="about-dataset">
      <DialogTitle id="about-dataset">{dataset.title}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: '288px minmax(0, 1fr)', gap: 3 }}>
        <Box>
          {bounds && (
            <GlanceMap
              label={`Where ${dataset.title} lies`}
              glance={{ bounds, points: [], lines: [outline(bounds as Bounds)] }}
              others={datasets.filter(({ id }) => id !== dataset.id)}
            />
          )}
          <Typography variant="body2" sx={{ mt: 1 }}>
            {dataset.kind}, {sizeOf(dataset)}, {dataset.owner === me ? 'yours' : `of ${dataset.owner}`}
          </Typography>
          <Vetted dataset={dataset} />
          <Typography variant="body2" color="text.secondary">
            {dataset.crs || 'no place'}
            {dataset.crs_reason && ` · ${dataset.crs_reason}`}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {dataset.file_name}, {momentOf(dataset.created)}
          </Typography>
          <Origin dataset={dataset} />
          {dataset.notes.map((note) => (
            <Typography key={note} variant="body2" color="text.secondary">
              {note}
            </Typography>
          ))}
        </Box>
        <Box sx={{ minWidth: 0 }}>
          {(Object.entries(SAID) as [Said, string][]).map(([what, words]) => (
            <Labelled key={what} wide label={words}>
              <EditableText
                label={`${words} of ${dataset.title}`}
                most={limits.DatasetChange[what].most}
                value={dataset[what]}
                locked={!dataset.may.includes('change')}
                onChange={(text) => change.mutate({ [what]: text })}
                sx={{ border: 1, borderColor: 'line', bgcolor: 'raised', px: 1 }}
              />
            </Labelled>
          ))}
          <Typography variant="body2" sx={{ fontWeight: 600, mt: 1 }}>
            {used.length > 0 ? 'Used' : uses.data ? 'Not used anywhere' : 'Looking where it is used …'}
          </Typography>
          {used.map((words) => (
            <Typography key={words} variant="body2">
              {words}
            </Typography>
          ))}
          {dataset.fields.length > 0 && (
            <Typography variant="body2" sx={{ fontWeight: 600, mt: 1 }}>
              {counted(dataset.fields.length, 'field')}
            </Typography>
          )}
          <Box component="ul" sx={{ m: 0, pl: 2, fontSize: 13, columns: dataset.fields.length > 8 ? 2 : 1 }}>
            {dataset.fields.map((field) => (
              <li key={field.name} title={about(field)}>
                {field.name}{' '}
                <Typography component="span" variant="caption" color="text.secondary">
                  {field.meaning.kind}
                  {field.meaning.unit && ` in ${field.meaning.unit}`}
                  {field.missing > 0 && `, ${field.missing.toLocaleString('en')} missing`}
                </Typography>
              </li>
            ))}
          </Box>
          {trouble && (
            <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
              {trouble.message}
            </Typography>
          )}
        </Box>
      </DialogContent>
      <DialogActions>
        {dataset.may.includes('share') && <Button onClick={() => setSharing(true)}>Share</Button>}
        {dataset.kind === 'raster' && <Button onClick={() => setCutting(true)}>Cut into parts</Button>}
        {cutting && <CutDialog dataset={dataset} onClose={() => setCutting(false)} />}
        {sharing && <ShareDialog id={dataset.id} title={dataset.title} onClose={() => setSharing(false)} />}
        {dataset.may.includes('remove') && (
          <Button
            disabled={!uses.data || remove.isPending}
            onClick={() =>
              window.confirm(
                [
                  `Remove '${dataset.title}' from the library for good?`,
                  ...used.map((words) => `It is ${words}.`),
                ].join('\n'),
              ) && remove.mutate()
            }
          >
            Remove from the library
          </Button>
        )}
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  )
}
