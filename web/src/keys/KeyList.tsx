import Box from '@mui/material/Box'
import Dialog from '@mui/material/Dialog'
import Typography from '@mui/material/Typography'
import { KEYS } from './useShortcuts'

export function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} slotProps={{ paper: { 'aria-label': 'Keys' } }}>
      <Box sx={{ p: 4, display: 'grid', gridTemplateColumns: 'auto auto', columnGap: 6, rowGap: 1 }}>
        {KEYS.map(([key, what]) => (
          <Box key={key} sx={{ display: 'contents' }}>
            <code>{key}</code>
            <Typography variant="body2">{what}</Typography>
          </Box>
        ))}
      </Box>
    </Dialog>
  )
}
