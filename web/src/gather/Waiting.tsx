import Typography from '@mui/material/Typography'

/** What is being worked out before there is anything to choose, or why it could not be. */
export function Waiting({ words, error }: { words: string; error?: Error | null }) {
  return (
    <Typography variant="body2" color="text.secondary" sx={{ p: 3 }} role={error ? 'alert' : 'status'}>
      {error?.message ?? words}
    </Typography>
  )
}
