import { useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import IconButton from '@mui/material/IconButton'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { answered, client } from '../api/client'
import { Glyph } from '../Glyph'
import { useMode } from '../mode'
import { ChangePassword } from './ChangePassword'

/** Who is signed in, the theme, the way out. */
export function Account({ me }: { me: string }) {
  const [changing, setChanging] = useState(false)
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const { mode, turn } = useMode()
  const queries = useQueryClient()
  const go = useNavigate()
  async function leave() {
    await answered(client.DELETE('/api/session'))
    queries.clear()
    void go('/')
    window.location.reload()
  }
  return (
    <>
      <IconButton aria-label={`Account of ${me}`} aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        <Glyph name="person" />
      </IconButton>
      <Menu disablePortal anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem disabled>{me}</MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null)
            turn()
          }}
        >
          {mode === 'light' ? 'Graphite theme' : 'Light theme'}
        </MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null)
            setChanging(true)
          }}
        >
          Change my password
        </MenuItem>
        <MenuItem onClick={() => void go('/people')}>People and teams</MenuItem>
        <MenuItem onClick={() => void go('/about-api')}>The API</MenuItem>
        <MenuItem onClick={() => void leave()}>Sign out</MenuItem>
      </Menu>
      <ChangePassword open={changing} onClose={() => setChanging(false)} />
    </>
  )
}
