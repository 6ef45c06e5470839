import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import * as limits from '../api/generated/limits'
import type { Dataset, RedeliveryIn } from '../api/types'
import { Choice } from '../bench/Labelled'
import type { UploadState } from '../gather/arriving'
import { SendFile } from '../gather/SendFile'
import { JobLine } from '../publish/JobLine'
import { Compared } from './Compared'
import { useTakeIn } from './useTable'

/** A new delivery of a table: sent, compared row by row by a key, and only then put in the place of what is there. */
export function Redelivery({ dataset, onDone }: { dataset: Dataset; onDone: () => void }) {
  const [upload, setUpload] = useState<UploadState | null>(null)
  return (
    <>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', px: 2, minHeight: 32 }}>
        <Typography variant="body2" sx={{ fontWeight: 600, flex: 1 }}>
          New delivery of {dataset.title}
        </Typography>
        <Button onClick={onDone}>Back to the table</Button>
      </Box>
      {upload ? (
        <Replace key={upload.id} {...{ dataset, upload, onDone }} onOther={() => setUpload(null)} />
      ) : (
        <SendFile onUpload={setUpload} />
      )}
    </>
  )
}

const BREAKS = [
  ['kept', 'stay as they are'],
  ['anew', 'are computed anew'],
] as const

const NOTHING = ' '

interface Props {
  dataset: Dataset
  upload: UploadState
  onDone: () => void
  onOther: () => void
}

function Replace({ dataset, upload, onDone, onOther }: Props) {
  const queries = useQueryClient()
  const takeIn = useTakeIn()
  const known = useKeys(dataset)
  const there = new Set(upload.preview.fields.map((field) => field.name))
  const keys = known?.filter((name) => there.has(name)) ?? []
  const [chosen, setKey] = useState('')
  const key = chosen || (keys[0] ?? '')
  const [more, setMore] = useState<readonly string[]>([])
  const others = keys.filter((each) => each !== key)
  const [breaks, setBreaks] = useState<RedeliveryIn['breaks']>('kept')
  const [jobId, setJobId] = useState<string | null>(null)
  const path = { dataset_id: dataset.id }
  const asked = { upload: upload.id, key, more, breaks } as RedeliveryIn
  const looked = useQuery({
    queryKey: ['redelivery', dataset.revision, upload.id, key, more],
    queryFn: () =>
      answered(client.POST('/api/datasets/{dataset_id}/redelivery/look', { params: { path }, body: asked })),
    enabled: key !== '' && jobId === null,
    staleTime: Infinity,
    retry: false,
  })
  const replace = useMutation({
    mutationFn: () => answered(client.POST('/api/datasets/{dataset_id}/redelivery', { params: { path }, body: asked })),
    onSuccess: (job) => setJobId(job.id),
  })
  const job = useQuery({
    queryKey: ['job', jobId],
    queryFn: async () => {
      const got = await answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: jobId ?? '' } } }))
      if (got.state === 'done') {
        takeIn(await answered(client.GET('/api/datasets/{dataset_id}', { params: { path } })))
        // Class limits may have been written into the sheet that is open.
        void queries.invalidateQueries({ queryKey: ['sheet'] })
      }
      return got
    },
    enabled: jobId !== null,
    refetchInterval: (query) => (['running', 'waiting'].includes(query.state.data?.state ?? 'running') ? 400 : false),
  })
  const view = looked.data
  const trouble = (looked.error ?? replace.error)?.message
  const nothing = view && view.new + view.gone + view.changed + view.moved === 0
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '300px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
      <Box sx={{ p: 2, overflow: 'auto', borderRight: 1, borderColor: 'line' }}>
        <Choice
          label="Known again by"
          value={key}
          options={keys.map((option) => [option, option] as const)}
          onChange={(next) => {
            if (jobId !== null) return
            setKey(next)
            setMore(more.filter((each) => each !== next))
          }}
        />
        {[...more, NOTHING].slice(0, limits.RedeliveryIn.more.most).map((also, at) => (
          <Choice
            key={also}
            label="and by"
            value={also}
            options={[
              [NOTHING, 'nothing more'],
              ...others.filter((each) => each === also || !more.includes(each)).map((each) => [each, each] as const),
            ]}
            onChange={(next) => jobId === null && setMore(more.toSpliced(at, 1, ...(next === NOTHING ? [] : [next])))}
          />
        ))}
        <Choice
          label="Class limits"
          value={breaks}
          options={BREAKS}
          onChange={(next) => jobId === null && setBreaks(next)}
        />
        {known && keys.length === 0 && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', my: 1 }}>
            No field of this file is also in {dataset.title}: rows can’t be known again.
          </Typography>
        )}
        {trouble && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', my: 1 }}>
            {trouble}
          </Typography>
        )}
        <Box sx={{ display: 'flex', gap: 1, mt: 2, flexWrap: 'wrap' }}>
          {job.data?.state === 'done' ? (
            <Button variant="contained" onClick={onDone}>
              To the table
            </Button>
          ) : (
            <Button
              variant="contained"
              disabled={!view || nothing || jobId !== null || replace.isPending}
              onClick={() => replace.mutate()}
            >
              Replace the rows
            </Button>
          )}
          <Button variant="outlined" disabled={job.data?.state === 'running'} onClick={onOther}>
            Another file
          </Button>
        </Box>
        {job.data && <JobLine job={job.data} />}
      </Box>
      <Box sx={{ p: 2, overflow: 'auto' }}>
        {looked.isFetching && <Typography variant="body2">Comparing the rows …</Typography>}
        {view && <Compared view={view} />}
      </Box>
    </Box>
  )
}

/** The fields by which rows may be known again, the likeliest first; null until they have come. */
function useKeys(dataset: Dataset): string[] | null {
  const { data } = useQuery({
    queryKey: ['redelivery-keys', dataset.id, dataset.revision],
    queryFn: () =>
      answered(
        client.GET('/api/datasets/{dataset_id}/redelivery/keys', { params: { path: { dataset_id: dataset.id } } }),
      ),
    staleTime: Infinity,
  })
  return data ?? null
}
