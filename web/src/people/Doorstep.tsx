import { type FormEvent, type ReactNode, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { Contours } from '../home/Contours'

interface Props {
  /** What the page is for, under the name of the product. */
  words: ReactNode
  fields: { label: string; value: string; set: (text: string) => void; secret?: string; complete?: string }[]
  press: string
  onSend: () => Promise<void>
  children?: ReactNode
}

/** What somebody sees who is not in yet: a few fields and one press. */
export function Doorstep({ words, fields, press, onSend, children }: Props) {
  const [trouble, setTrouble] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  async function send(event: FormEvent) {
    event.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      await onSend()
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
    }
    setBusy(false)
  }
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: { xs: '1fr', sm: 'minmax(320px, 420px) 1fr' } }}>
      <Box
        component="main"
        sx={{
          bgcolor: 'background.paper',
          borderRight: 1,
          borderColor: 'line',
          display: 'flex',
          flexDirection: 'column',
          justifyContent: 'center',
          px: 12,
        }}
      >
        <Typography component="h1" sx={{ fontSize: 26, fontWeight: 600, letterSpacing: '-0.01em' }}>
          Grey Latch
        </Typography>
        <Typography color="text.secondary" sx={{ mb: 8 }}>
          {words}
        </Typography>
        <Box
          component="form"
          onSubmit={(event) => void send(event)}
          sx={{ display: 'flex', flexDirection: 'column', gap: 3 }}
        >
          {fields.map(({ label, value, set, secret, complete }, index) => (
            <TextField
              key={label}
              label={label}
              type={secret ? 'password' : undefined}
              autoComplete={secret ?? complete}
              autoFocus={index === 0}
              value={value}
              onChange={(e) => set(e.target.value)}
              slotProps={{ inputLabel: { shrink: true } }}
            />
          ))}
          <Box role="alert" sx={{ minHeight: 20, color: 'error.main', fontSize: 13 }}>
            {trouble}
          </Box>
          <Button
            type="submit"
            variant="contained"
            disabled={busy || fields.some(({ value }) => !value)}
            sx={{ alignSelf: 'flex-start', px: 6 }}
          >
            {press}
          </Button>
          {children}
        </Box>
      </Box>
      <Contours />
    </Box>
  )
}
