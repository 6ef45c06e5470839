import { useEffect, useRef } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Corrections } from '../api/types'
import { JobLine } from '../publish/JobLine'
import { apart, type UploadState, useBringingIn } from './arriving'
import { Corrector } from './Corrector'
import { PreviewTable } from './PreviewTable'
import { sendFile } from './SendFile'

interface Props {
  upload: UploadState
  /** The upload as it is now, or what is in its place; nothing where it is done with. */
  onUpload: (...uploads: UploadState[]) => void
  onDone: () => void
  /** No other file waits. */
  last: boolean
}

/** A file that was sent: looked at in a preview of real rows, corrected, then brought in by a job. */
export function ImportPanel({ upload, onUpload, onDone, last }: Props) {
  const { preview } = upload
  const jobId = upload.job ?? null
  const job = useBringingIn(jobId)
  const after = useRef<HTMLButtonElement>(null)
  const newest = useRef<Partial<Corrections> | null>(null)
  const look = useMutation({
    mutationFn: async (corrections: Partial<Corrections>) => {
      const body = corrections as Corrections
      const preview = await answered(
        client.POST('/api/uploads/{upload_id}/preview', { params: { path: { upload_id: upload.id } }, body }),
      )
      return { preview, corrections }
    },
    // A correction counts from the moment it is made: who brings the file in before the new preview is there loses nothing.
    onMutate: (corrections) => {
      newest.current = corrections
      onUpload({ ...upload, corrections })
      return upload.corrections
    },
    onError: (_, refused, before) => {
      if (newest.current === refused) onUpload({ ...upload, corrections: before ?? {} })
    },
    onSuccess: (got) => {
      if (newest.current === got.corrections) onUpload({ ...upload, ...got })
    },
  })
  const bringIn = useMutation({
    mutationFn: async ({ draw }: { draw: boolean }) => {
      // What the file says of itself is taken over, unless somebody wrote something else.
      const { title, source, credit, licence, dated } = preview
      const corrections = { title, source, credit, licence, dated, ...upload.corrections } as Corrections
      const { id: job } = await (upload.also
        ? answered(
            client.POST('/api/uploads/mosaic', { body: { uploads: apart(upload).map(({ id }) => id), corrections } }),
          )
        : answered(
            client.POST('/api/uploads/{upload_id}/import', {
              params: { path: { upload_id: upload.id } },
              body: corrections,
            }),
          ))
      return { job, draw }
    },
    onSuccess: (begun) => onUpload({ ...upload, ...begun }),
  })
  const again = useMutation({
    mutationFn: async () => {
      // What was put together comes apart: which of them did not fit the others can be left out then.
      const sent = apart(upload).map(
        async ({ file, corrections }) => file && { ...(await sendFile(file)), corrections, file },
      )
      onUpload(...(await Promise.all(sent)).filter((each) => each !== undefined))
    },
  })
  const state = job.data?.state
  useEffect(() => {
    // The button that was pressed is gone now: what comes next gets the focus.
    if (state === 'done' || state === 'failed' || state === 'stopped') after.current?.focus()
  }, [state])
  const count = preview.kind === 'raster' ? 'raster' : preview.kind
  // From then on the file is read as it was corrected; one that failed is sent again first.
  const begun = jobId !== null
  const busy = begun && ['running', 'waiting'].includes(job.data?.state ?? 'waiting')
  const problem = look.error?.message ?? bringIn.error?.message ?? again.error?.message ?? preview.problem
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '304px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
      <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, borderRight: 1, borderColor: 'line' }}>
        <Box sx={{ p: 2, pl: 3, pt: 1, overflow: 'auto', flex: 1 }}>
          <Box inert={begun} sx={{ opacity: begun ? 0.6 : 1 }}>
            <Corrector
              upload={upload.id}
              preview={preview}
              corrections={upload.corrections}
              onChange={(next) => look.mutate(next)}
            />
          </Box>
          {preview.notes.map((note) => (
            <Typography key={note} variant="body2" color="text.secondary">
              {note}
            </Typography>
          ))}
        </Box>
        <Box sx={{ px: 2, pl: 3, py: 1, borderTop: 1, borderColor: 'line', flexShrink: 0 }}>
          {problem && (
            <Typography
              role="alert"
              variant="body2"
              sx={{ color: 'error.main', mb: 1, maxHeight: 80, overflow: 'auto' }}
            >
              {problem}
            </Typography>
          )}
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            {state === 'done' && (
              <Button
                ref={after}
                variant="contained"
                onClick={() => {
                  onUpload()
                  onDone()
                }}
              >
                {last ? 'To the library' : 'Next file'}
              </Button>
            )}
            {(state === 'failed' || state === 'stopped') && upload.file && (
              <Button ref={after} variant="contained" disabled={again.isPending} onClick={() => again.mutate()}>
                {upload.also ? 'Apart again' : 'Correct it and try again'}
              </Button>
            )}
            {(state === undefined || busy) && (
              <>
                {preview.kind !== 'table' && (
                  <Button
                    variant="contained"
                    disabled={busy || Boolean(preview.problem)}
                    onClick={() => bringIn.mutate({ draw: true })}
                  >
                    Bring in and draw
                  </Button>
                )}
                <Button
                  variant={preview.kind === 'table' ? 'contained' : 'outlined'}
                  disabled={busy || Boolean(preview.problem)}
                  onClick={() => bringIn.mutate({ draw: false })}
                >
                  Bring in {count}
                </Button>
              </>
            )}
            {state === undefined && upload.also && (
              <Button variant="outlined" disabled={busy} onClick={() => onUpload(...apart(upload))}>
                Apart again
              </Button>
            )}
            {state !== 'done' && (
              <Button variant="outlined" disabled={busy} onClick={() => onUpload()}>
                Leave it out
              </Button>
            )}
          </Box>
          {job.data && <JobLine job={job.data} />}
        </Box>
      </Box>
      <PreviewTable
        preview={preview}
        locked={begun}
        corrections={upload.corrections}
        onChange={(values) => look.mutate({ ...upload.corrections, ...values })}
      />
    </Box>
  )
}
