import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useSheet } from '../sheet/store'

/** What a stage says while it has nothing to work on. */
export function NoLayer({ text = 'Choose a layer in the key at the left.' }: { text?: string }) {
  const empty = useSheet((s) => (s.document?.layers.length ?? 0) === 0)
  const show = useSheet((s) => s.show)
  return (
    <Box sx={{ p: 4 }}>
      <Typography variant="body2" color="text.secondary">
        {empty ? 'There is no layer yet.' : text}
      </Typography>
      {empty && (
        <Button variant="outlined" sx={{ mt: 2 }} onClick={() => show('gather')}>
          Gather data
        </Button>
      )}
    </Box>
  )
}
