import { useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Corrections, Preview } from '../api/types'
import { useGather } from './gatherState'

export interface UploadState {
  id: string
  preview: Preview
  corrections: Partial<Corrections>
  /** Other rasters that become one with this. */
  also?: readonly UploadState[]
  /** To send it again where bringing it in failed: the server keeps no file that was of no use. What was fetched has none. */
  file?: File
  /** What brings it in, and whether it is to be drawn then: they go on while another file, or another stage, is looked at. */
  job?: string
  draw?: boolean
  /** It is in the library. */
  done?: boolean
}

/** What became one, each by itself again. */
export function apart({ also = [], ...upload }: UploadState): UploadState[] {
  return [upload, ...also]
}

/** Change the files that were sent and are looked at. */
export function changeUploads(change: (before: readonly UploadState[]) => readonly UploadState[]): void {
  useGather.setState(({ uploads }) => ({ uploads: change(uploads) }))
}

/** How far the job is that brings a file in. */
export function useBringingIn(jobId: string | null) {
  return useQuery({
    queryKey: ['job', jobId],
    queryFn: () => answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: jobId ?? '' } } })),
    enabled: jobId !== null,
    refetchInterval: (query) => (['running', 'waiting'].includes(query.state.data?.state ?? 'running') ? 400 : false),
  })
}
