import { type FormEvent, useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { Contours } from './Contours'

export function SignIn() {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [trouble, setTrouble] = useState<string | null>(null)
  const [busy, setBusy] = useState(false)
  const queries = useQueryClient()

  async function send(event: FormEvent) {
    event.preventDefault()
    setBusy(true)
    setTrouble(null)
    try {
      const me = await answered(client.POST('/api/session', { body: { name, password } }))
      queries.setQueryData(['session'], me)
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error))
      setBusy(false)
    }
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
          From tables and rasters to maps that others can read.
        </Typography>
        <Box
          component="form"
          onSubmit={(event) => void send(event)}
          sx={{ display: 'flex', flexDirection: 'column', gap: 3 }}
        >
          <TextField
            label="Name"
            autoComplete="username"
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <TextField
            label="Password"
            type="password"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          <Box role="alert" sx={{ minHeight: 20, color: 'error.main', fontSize: 13 }}>
            {trouble}
          </Box>
          <Button
            type="submit"
            variant="contained"
            disabled={busy || !name || !password}
            sx={{ alignSelf: 'flex-start', px: 6 }}
          >
            Sign in
          </Button>
        </Box>
      </Box>
      <Contours />
    </Box>
  )
}
