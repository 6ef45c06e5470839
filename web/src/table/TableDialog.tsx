import type { ReactNode } from 'react'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Typography from '@mui/material/Typography'

interface Props {
  title: string
  /** What went wrong last. */
  trouble: string | undefined
  children: ReactNode
  onClose: () => void
}

/** A dialog about a whole table, in which everything takes effect at once. */
export function TableDialog({ title, trouble, children, onClose }: Props) {
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth aria-labelledby="table-dialog">
      <DialogTitle id="table-dialog">{title}</DialogTitle>
      <DialogContent>
        {children}
        {trouble && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
            {trouble}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  )
}
