import { useMutation, useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { momentOf } from '../wording'

/** Whether a keeper has looked at a dataset and found it good; keepers say so here. */
export function Vetted({ dataset }: { dataset: Dataset }) {
  const queries = useQueryClient()
  const path = { thing_id: dataset.id }
  const vet = useMutation({
    mutationFn: async () => {
      await (dataset.vetted
        ? answered(client.DELETE('/api/vetted/{thing_id}', { params: { path } }))
        : answered(client.POST('/api/vetted/{thing_id}', { params: { path } })))
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['datasets'] }),
  })
  return (
    <>
      <Typography variant="body2">
        {dataset.vetted
          ? `Vetted by ${dataset.vetted_by ?? 'somebody who has left'}, ${momentOf(dataset.vetted)}`
          : 'Not vetted'}
      </Typography>
      {dataset.may.includes('vet') && (
        <Button size="small" onClick={() => vet.mutate()} disabled={vet.isPending} sx={{ px: 0 }}>
          {dataset.vetted ? 'Take that back' : 'I have looked at it: it is good'}
        </Button>
      )}
    </>
  )
}
