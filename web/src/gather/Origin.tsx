import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { Choice } from '../bench/Labelled'
import { momentOf } from '../wording'

const EVERY = ['', 'hour', 'day', 'week'] as const

/** The service that a dataset came from: asked again at a press, or by a timetable. */
export function Origin({ dataset }: { dataset: Dataset }) {
  const queries = useQueryClient()
  const path = { dataset_id: dataset.id }
  const again = () => queries.invalidateQueries({ queryKey: ['datasets'] })
  const refresh = useMutation({
    mutationFn: async () => {
      let job = await answered(client.POST('/api/datasets/{dataset_id}/refresh', { params: { path } }))
      while (job.state === 'running' || job.state === 'waiting') {
        await new Promise((wake) => setTimeout(wake, 500))
        job = await answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } }))
      }
      if (job.state !== 'done') throw new Error(job.message)
    },
    onSettled: again,
  })
  const timetable = useMutation({
    mutationFn: (every: (typeof EVERY)[number]) =>
      answered(client.PUT('/api/datasets/{dataset_id}/timetable', { params: { path }, body: { every } })),
    onSuccess: again,
  })
  const { origin } = dataset
  if (!origin) return null
  const trouble = refresh.error?.message ?? timetable.error?.message ?? origin.trouble
  const may = dataset.may.includes('change') && origin.kind !== 'tiles'
  return (
    <>
      <Typography variant="body2" sx={{ mt: 1, overflowWrap: 'anywhere' }}>
        {origin.kind === 'store' ? 'Asked of the store' : `Fetched from ${origin.address}`}, {momentOf(origin.fetched)}
      </Typography>
      {may && (
        <>
          <Button size="small" sx={{ px: 0 }} disabled={refresh.isPending} onClick={() => refresh.mutate()}>
            {refresh.isPending ? 'Asking …' : 'Ask again now'}
          </Button>
          <Choice
            label="By itself"
            value={EVERY.find((each) => each === origin.every) || 'never'}
            options={[
              ['never', 'never'],
              ['hour', 'every hour'],
              ['day', 'every day'],
              ['week', 'every week'],
            ]}
            onChange={(every) => timetable.mutate(every === 'never' ? '' : (every as 'hour'))}
          />
        </>
      )}
      {trouble && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {trouble}
        </Typography>
      )}
    </>
  )
}
