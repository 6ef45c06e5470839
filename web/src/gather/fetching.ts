import { useState } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Asked, Corrections, Job } from '../api/types'
import type { UploadState } from './arriving'

/** Fetch from a service: how far the job is, and the upload once it is there, which is looked at like a file. */
export function useFetching(onArrive: (upload: UploadState) => void) {
  const [jobId, setJobId] = useState<string | null>(null)
  const begin = useMutation({
    mutationFn: (asked: Asked) => answered(client.POST('/api/services/fetch', { body: { asked } })),
    onSuccess: ({ id }) => setJobId(id),
  })
  const job = useQuery({
    queryKey: ['fetch', jobId],
    queryFn: async () => {
      const got = await answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: jobId ?? '' } } }))
      if (got.state === 'done') {
        const id = String(got.result.upload)
        const preview = await answered(
          client.POST('/api/uploads/{upload_id}/preview', {
            params: { path: { upload_id: id } },
            body: {} as Corrections,
          }),
        )
        setJobId(null)
        onArrive({ id, preview, corrections: {} })
      }
      return got
    },
    enabled: jobId !== null,
    refetchInterval: (query) => (isLive(query.state.data) ? 400 : false),
  })
  return {
    fetch: begin.mutate,
    job: job.data,
    busy: begin.isPending || (jobId !== null && isLive(job.data)),
    error: begin.error ?? job.error,
  }
}

const isLive = (job: Job | undefined) => ['running', 'waiting'].includes(job?.state ?? 'waiting')
