import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset, Past } from '../api/types'
import { counted, momentOf } from '../wording'
import { TableDialog } from './TableDialog'
import { useTakeIn } from './useTable'

/** Who changed what of a table, and when; any earlier state can be gone back to. */
export function History({ dataset, onClose }: { dataset: Dataset; onClose: () => void }) {
  const path = { dataset_id: dataset.id }
  const history = useQuery({
    queryKey: ['history', dataset.id],
    queryFn: () => answered(client.GET('/api/datasets/{dataset_id}/history', { params: { path } })),
  })
  const takeIn = useTakeIn()
  const back = useMutation({
    mutationFn: (number: number) =>
      answered(client.POST('/api/datasets/{dataset_id}/restore', { params: { path, query: { number } } })),
    onSuccess: takeIn,
  })
  return (
    <TableDialog
      title={`History of ${dataset.title}`}
      trouble={(history.error ?? back.error)?.message}
      onClose={onClose}
    >
      {history.isPending && <Typography variant="body2">Looking it up …</Typography>}
      {history.data?.map((item, i) => (
        <Line
          key={item.number}
          past={item}
          now={i === 0}
          busy={back.isPending}
          onBack={() => back.mutate(item.number)}
        />
      ))}
    </TableDialog>
  )
}

function Line({ past, now, busy, onBack }: { past: Past; now: boolean; busy: boolean; onBack: () => void }) {
  return (
    <Box
      data-testid="revision"
      sx={{
        display: 'grid',
        gridTemplateColumns: '36px minmax(0, 1fr) 90px 190px 140px',
        gap: 2,
        py: 0.5,
        borderBottom: 1,
        borderColor: 'line',
        alignItems: 'center',
        fontSize: 13,
      }}
    >
      <Box sx={{ color: 'text.secondary', textAlign: 'right' }}>{past.number}</Box>
      <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis' }} title={past.change}>
        {past.change}
      </Box>
      <Box sx={{ color: 'text.secondary' }}>{counted(past.rows, 'row')}</Box>
      <Box sx={{ color: 'text.secondary' }}>
        {past.author} · {momentOf(past.created)}
      </Box>
      {now ? (
        <Box sx={{ color: 'text.secondary' }}>as it is now</Box>
      ) : (
        <Button disabled={busy} onClick={onBack}>
          Back to revision {past.number}
        </Button>
      )}
    </Box>
  )
}
