import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset, Doubt } from '../api/types'
import { useSheet } from '../sheet/store'
import { counted } from '../wording'

const AT_ONCE = 100_000

/** What is doubtful about a dataset in its present state. */
export function useDoubts(dataset: Dataset | null, asked: boolean) {
  return useQuery({
    queryKey: ['doubts', dataset?.id, dataset?.revision],
    queryFn: () =>
      answered(
        client.GET('/api/datasets/{dataset_id}/doubts', { params: { path: { dataset_id: dataset?.id ?? '' } } }),
      ),
    // Of very many rows it takes a while, and is found out when somebody asks.
    enabled: dataset !== null && (asked || dataset.rows <= AT_ONCE),
    staleTime: Infinity,
  })
}

/** The doubts beside the table; pressing one chooses its rows, in the table and on the map. */
export function Doubts({ dataset }: { dataset: Dataset }) {
  const { data, error } = useDoubts(dataset, true)
  const pick = ({ rows: [first, ...others] }: Doubt) => {
    if (first !== undefined) useSheet.setState({ fid: first, also: others })
  }
  return (
    <Box
      role="group"
      aria-label="Doubts"
      sx={{ width: 264, flexShrink: 0, borderLeft: 1, borderColor: 'line', overflow: 'auto', p: 1 }}
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
      {data?.length === 0 && (
        <Typography variant="body2" color="text.secondary">
          Nothing in these rows is doubtful.
        </Typography>
      )}
      {data?.map((doubt) => (
        <ButtonBase
          key={`${doubt.kind} ${doubt.field} ${doubt.text}`}
          disabled={doubt.rows.length === 0}
          onClick={() => pick(doubt)}
          sx={{
            display: 'block',
            width: '100%',
            textAlign: 'left',
            py: 0.75,
            px: 1,
            borderBottom: 1,
            borderColor: 'line',
            '&:hover': { bgcolor: 'tint' },
          }}
        >
          <Typography variant="body2">{doubt.text}</Typography>
          <Typography variant="caption" color="text.secondary">
            {doubt.kind}
            {doubt.of > 0 && ` · ${counted(doubt.of, 'row')}`}
          </Typography>
        </ButtonBase>
      ))}
    </Box>
  )
}
