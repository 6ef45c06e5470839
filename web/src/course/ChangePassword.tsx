import { type FormEvent, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import { answered, client } from '../api/client'

/** The owner of an account gives it another password; all other sessions end. */
export function ChangePassword({ open, onClose }: { open: boolean; onClose: () => void }) {
  const [old, setOld] = useState('')
  const [next, setNext] = useState('')
  const [again, setAgain] = useState('')
  const [said, setSaid] = useState<{ text: string; good: boolean } | null>(null)
  const close = () => {
    setOld('')
    setNext('')
    setAgain('')
    setSaid(null)
    onClose()
  }
  async function send(event: FormEvent) {
    event.preventDefault()
    if (next !== again) return setSaid({ text: 'The two new passwords are not the same.', good: false })
    try {
      await answered(client.POST('/api/password', { body: { old, new: next } }))
      setOld('')
      setNext('')
      setAgain('')
      setSaid({ text: 'The password is changed. Other sessions have ended.', good: true })
    } catch (error) {
      setSaid({ text: error instanceof Error ? error.message : String(error), good: false })
    }
  }
  const field = (label: string, value: string, set: (text: string) => void, complete: string) => (
    <TextField
      label={label}
      type="password"
      autoComplete={complete}
      value={value}
      onChange={(e) => set(e.target.value)}
      slotProps={{ inputLabel: { shrink: true } }}
    />
  )
  return (
    <Dialog open={open} onClose={close} aria-labelledby="password-title">
      <DialogTitle id="password-title" sx={{ fontSize: 16, fontWeight: 600, pb: 0 }}>
        Change my password
      </DialogTitle>
      <Box
        component="form"
        onSubmit={(event) => void send(event)}
        sx={{ display: 'flex', flexDirection: 'column', gap: 3, p: 6, width: 340 }}
      >
        {field('The one I have', old, setOld, 'current-password')}
        {field('The new one, ten characters or more', next, setNext, 'new-password')}
        {field('The new one again', again, setAgain, 'new-password')}
        <Box role="alert" sx={{ minHeight: 20, fontSize: 13, color: said?.good ? 'text.primary' : 'error.main' }}>
          {said?.text}
        </Box>
        <Box sx={{ display: 'flex', gap: 2 }}>
          <Button type="submit" variant="contained" disabled={!old || !next || !again}>
            Change it
          </Button>
          <Button onClick={close}>Close</Button>
        </Box>
      </Box>
    </Dialog>
  )
}
