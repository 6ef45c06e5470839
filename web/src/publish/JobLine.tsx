import { useEffect, useRef } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Job } from '../api/types'

const ENDS: Record<string, string> = { done: 'Done', failed: 'Failed', stopped: 'Stopped' }

/** A job: how far it is and a way to stop it, or how it ended. */
export function JobLine({ job }: { job: Job }) {
  const queries = useQueryClient()
  const stop = useMutation({
    mutationFn: () => answered(client.POST('/api/jobs/{job_id}/stop', { params: { path: { job_id: job.id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ['jobs'] }),
  })
  const line = useRef<HTMLElement>(null)
  useEffect(() => {
    // The button that began it can't be pressed now: what it began gets the focus.
    if (document.activeElement === document.body) line.current?.focus()
  }, [job.id, job.state])
  const live = job.state === 'running' || job.state === 'waiting'
  return (
    <Box
      ref={line}
      role="status"
      tabIndex={-1}
      data-testid="job"
      data-state={job.state}
      sx={{ mt: 2, py: 1, borderTop: 1, borderColor: 'line' }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2 }}>
        <Typography variant="body2" sx={{ fontWeight: 600, flex: 1 }} noWrap>
          {job.title}
        </Typography>
        {live && (
          <Button variant="outlined" onClick={() => stop.mutate()}>
            Stop
          </Button>
        )}
      </Box>
      {live && (
        <LinearProgress
          variant={job.total > 0 ? 'determinate' : 'indeterminate'}
          value={job.total > 0 ? Math.min(100, (100 * job.done) / job.total) : 0}
          sx={{ my: 1 }}
        />
      )}
      <Typography variant="body2" sx={{ color: job.state === 'failed' ? 'error.main' : 'text.secondary' }}>
        {live
          ? job.state === 'waiting'
            ? 'waiting for a worker'
            : job.message
          : `${ENDS[job.state] ?? ''}: ${job.message}`}
      </Typography>
    </Box>
  )
}
