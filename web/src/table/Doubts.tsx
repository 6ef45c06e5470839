import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, Doubt } from '../api/types'
import { useSheet } from '../sheet/store'
import { counted } from '../wording'
import { useAttaching } from './attaching'
import { useTakeIn } from './useTable'

const AT_ONCE = 100_000

/** What is doubtful about a dataset in its present state. */
export function useDoubts(dataset: Dataset | null, asked: boolean) {
  const pictures = useAttaching((s) => s.changed)
  return useQuery({
    queryKey: ['doubts', dataset?.id, dataset?.revision, pictures],
    queryFn: () =>
      answered(
        client.GET('/api/datasets/{dataset_id}/doubts', { params: { path: { dataset_id: dataset?.id ?? '' } } }),
      ),
    // Of very many rows it takes a while, and is found out when somebody asks.
    enabled: dataset !== null && (asked || dataset.rows <= AT_ONCE),
    staleTime: Infinity,
  })
}

/** The doubts that nobody has accepted. */
export const open = (doubts: readonly Doubt[]) => doubts.filter(({ accepted }) => !accepted)

/** The doubts beside the table; pressing one chooses its rows, in the table and on the map. */
export function Doubts({ dataset }: { dataset: Dataset }) {
  const { data, error } = useDoubts(dataset, true)
  return (
    <Box
      role="group"
      aria-label="Doubts"
      sx={{ width: 288, flexShrink: 0, borderLeft: 1, borderColor: 'line', overflow: 'auto', p: 1 }}
    >
      {error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {error.message}
        </Typography>
      )}
      {!data && !error && (
        <Typography variant="body2" color="text.secondary">
          Looking through the rows …
        </Typography>
      )}
      {data && open(data).length === 0 && (
        <Typography variant="body2" color="text.secondary">
          {data.length === 0 ? 'Nothing in these rows is doubtful.' : 'What was doubtful is accepted.'}
        </Typography>
      )}
      {data?.map((doubt) => (
        <OneDoubt key={doubt.id} dataset={dataset} doubt={doubt} />
      ))}
    </Box>
  )
}

function OneDoubt({ dataset, doubt }: { dataset: Dataset; doubt: Doubt }) {
  const queries = useQueryClient()
  const takeIn = useTakeIn()
  const [reason, setReason] = useState<string | null>(null)
  const path = { dataset_id: dataset.id, doubt: doubt.id }
  const keep = (doubts: Doubt[]) =>
    queries.setQueriesData({ queryKey: ['doubts', dataset.id, dataset.revision] }, doubts)
  const mend = useMutation({
    mutationFn: () => answered(client.POST('/api/datasets/{dataset_id}/doubts/{doubt}/mend', { params: { path } })),
    onSuccess: takeIn,
  })
  const accept = useMutation({
    mutationFn: (words: string) =>
      answered(
        client.POST('/api/datasets/{dataset_id}/doubts/{doubt}/accept', { params: { path }, body: { reason: words } }),
      ),
    onSuccess: (doubts) => {
      setReason(null)
      keep(doubts)
    },
  })
  const again = useMutation({
    mutationFn: () => answered(client.DELETE('/api/datasets/{dataset_id}/doubts/{doubt}/accept', { params: { path } })),
    onSuccess: keep,
  })
  const pick = () => useSheet.getState().chooseRows(dataset.id, doubt.rows)
  const trouble = mend.error ?? accept.error ?? again.error
  return (
    <Box role="group" aria-label={doubt.text} sx={{ borderBottom: 1, borderColor: 'line', py: 0.5 }}>
      <ButtonBase
        disabled={doubt.rows.length === 0}
        onClick={pick}
        sx={{
          display: 'block',
          width: '100%',
          textAlign: 'left',
          py: 0.25,
          px: 1,
          '&:hover': { bgcolor: 'tint' },
        }}
      >
        <Typography variant="body2" color={doubt.accepted ? 'text.secondary' : 'text.primary'}>
          {doubt.text}
        </Typography>
        <Typography variant="caption" color="text.secondary">
          {doubt.kind}
          {doubt.of > 0 && ` · ${counted(doubt.of, 'row')}`}
        </Typography>
      </ButtonBase>
      {doubt.accepted ? (
        <Box sx={{ px: 1 }}>
          <Typography variant="caption" component="p" sx={{ m: 0 }}>
            Accepted by {doubt.accepted.author}: {doubt.accepted.reason}
          </Typography>
          <Button size="small" disabled={again.isPending} onClick={() => again.mutate()}>
            Doubt it again
          </Button>
        </Box>
      ) : reason === null ? (
        <Box sx={{ display: 'flex', gap: 0.5, px: 0.5, flexWrap: 'wrap' }}>
          {doubt.mending && (
            <Button size="small" disabled={mend.isPending} onClick={() => mend.mutate()} sx={{ textAlign: 'left' }}>
              {doubt.mending}
            </Button>
          )}
          <Button size="small" onClick={() => setReason('')}>
            It is right
          </Button>
        </Box>
      ) : (
        <Box
          component="form"
          sx={{ display: 'flex', gap: 0.5, px: 1 }}
          onSubmit={(e) => {
            e.preventDefault()
            if (reason.trim()) accept.mutate(reason)
          }}
        >
          <InputBase
            autoFocus
            value={reason}
            placeholder="Why?"
            onChange={(e) => setReason(e.target.value)}
            onKeyDown={(e) => e.key === 'Escape' && setReason(null)}
            inputProps={{ 'aria-label': 'Why it is right', maxLength: limits.ReasonIn.reason.most }}
            sx={{ flex: 1, fontSize: 12.5, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
          />
          <Button size="small" type="submit" disabled={!reason.trim() || accept.isPending}>
            Accept
          </Button>
        </Box>
      )}
      {trouble && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main', px: 1 }}>
          {trouble.message}
        </Typography>
      )}
    </Box>
  )
}
