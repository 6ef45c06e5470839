import { useEffect, useState } from 'react'
import { Link as RouterLink } from 'react-router'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { Glyph } from '../Glyph'
import { useEditions } from '../publish/queries'
import { useSheet } from '../sheet/store'
import { Account } from './Account'

/** Read aloud, not seen: the title stands in the field that changes it. */
const SPOKEN = {
  position: 'absolute',
  width: '1px',
  height: '1px',
  overflow: 'hidden',
  clipPath: 'inset(50%)',
} as const

export function TopBar({ me, onKeys, onFind }: { me: string; onKeys: () => void; onFind: () => void }) {
  const { undo, redo, show, edit } = useSheet.getState()
  const title = useSheet((s) => s.document?.title ?? '')
  const canUndo = useSheet((s) => s.past.length > 0 || s.older > 1)
  const canRedo = useSheet((s) => s.future.length > 0)
  const sheetId = useSheet((s) => s.id)
  const lookingAt = useSheet((s) => s.lookingAt)
  const editions = useEditions(sheetId)
  const next = (editions.data?.editions[0]?.number ?? 0) + 1
  return (
    <Box
      component="header"
      sx={{ display: 'flex', alignItems: 'center', gap: 2, px: 3, height: 38, bgcolor: 'background.paper' }}
    >
      <Typography
        component={RouterLink}
        to="/"
        sx={{ fontWeight: 600, color: 'text.primary', textDecoration: 'none', mr: 1 }}
      >
        Grey Latch
      </Typography>
      <Typography component="h1" sx={SPOKEN}>
        {title}
      </Typography>
      <InputBase
        value={title}
        onChange={(e) => edit('title', (draft) => void (draft.title = e.target.value || ' '))}
        inputProps={{ 'aria-label': 'Title of the sheet', maxLength: limits.Sheet.title.most }}
        sx={{
          flex: 1,
          fontSize: 15,
          '& input': {
            px: 1,
            py: 0.5,
            borderBottom: '1px solid transparent',
            '&:focus': { borderColor: 'primary.main' },
          },
        }}
      />
      {!lookingAt && <KeptState />}
      <Tooltip title="Undo (Ctrl+Z)">
        <span>
          <IconButton aria-label="Undo" disabled={!canUndo || lookingAt !== null} onClick={undo}>
            <Glyph name="undo" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="Redo (Ctrl+Shift+Z)">
        <span>
          <IconButton aria-label="Redo" disabled={!canRedo} onClick={redo}>
            <Glyph name="redo" />
          </IconButton>
        </span>
      </Tooltip>
      <Tooltip title="Find a field, a layer or an action (/)">
        <IconButton aria-label="Find" onClick={onFind}>
          <Glyph name="find" />
        </IconButton>
      </Tooltip>
      <Tooltip title="Keys (?)">
        <IconButton aria-label="Keys" onClick={onKeys}>
          <Glyph name="help" />
        </IconButton>
      </Tooltip>
      <Account me={me} />
      {!lookingAt && (
        <Button variant="contained" onClick={() => show('publish')}>
          Publish {next}
        </Button>
      )}
    </Box>
  )
}

function KeptState() {
  const keptAt = useSheet((s) => s.keptAt)
  const saving = useSheet((s) => s.saving)
  const trouble = useSheet((s) => s.trouble)
  const [now, setNow] = useState(() => Date.now())
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 1000)
    return () => clearInterval(timer)
  }, [])
  const seconds = keptAt ? Math.max(0, Math.round((now - keptAt) / 1000)) : 0
  const text =
    trouble ??
    (saving ? 'keeping …' : seconds < 60 ? `kept ${seconds} s ago` : `kept ${Math.round(seconds / 60)} min ago`)
  return (
    <Typography
      variant="caption"
      role="status"
      sx={{ color: trouble ? 'error.main' : 'text.secondary', maxWidth: 420 }}
      noWrap
      title={text}
    >
      {text}
    </Typography>
  )
}
