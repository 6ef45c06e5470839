import { useDeferredValue, useRef, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogTitle from '@mui/material/DialogTitle'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import type { Sheet } from '../api/types'
import { useSheet } from '../sheet/store'
import { useCrs, useFigures, WEB_MERCATOR } from '../sheet/useFrame'
import { Chosen } from './Chosen'
import { useListed, usePicture, useSuggestions } from './queries'

interface Entry {
  crs: string
  name: string
  words: string
}

/** In which projection the map lies: those that suit it, each with a picture of it, and all others by name and code. */
export function ProjectionDialog({ onClose }: { onClose: () => void }) {
  const document = useSheet((s) => s.document)
  if (!document) return null
  return <Chooser document={document} onClose={onClose} />
}

function Chooser({ document, onClose }: { document: Sheet; onClose: () => void }) {
  const now = useCrs()
  const [chosen, setChosen] = useState(now)
  const [text, setText] = useState('')
  const sought = useDeferredValue(text.trim())
  const { edit } = useSheet.getState()
  const list = useRef<HTMLDivElement>(null)
  const use = () => {
    edit('projection', (draft) => void (draft.projection = chosen === WEB_MERCATOR ? null : { crs: chosen }))
    onClose()
  }
  return (
    <Dialog open onClose={onClose} slotProps={{ paper: { sx: { width: 880, maxWidth: 'none', height: 560 } } }}>
      <DialogTitle>Projection</DialogTitle>
      <Box sx={{ display: 'grid', gridTemplateColumns: '390px minmax(0, 1fr)', flex: 1, minHeight: 0 }}>
        <Box sx={{ display: 'flex', flexDirection: 'column', minHeight: 0, borderRight: 1, borderColor: 'line' }}>
          <Box sx={{ px: 3, pb: 1.5 }}>
            <TextField
              fullWidth
              autoFocus
              size="small"
              value={text}
              onChange={(e) => setText(e.target.value)}
              // Enter takes the first that is listed.
              onKeyDown={(e) => e.key === 'Enter' && list.current?.querySelector('button')?.click()}
              placeholder="Name, country, EPSG code, or a PROJ string"
              slotProps={{ htmlInput: { 'aria-label': 'Search projections', maxLength: 200 } }}
            />
          </Box>
          <Box ref={list} sx={{ flex: 1, overflow: 'auto', borderTop: 1, borderColor: 'line' }}>
            {sought === '' ? (
              <Suggested document={document} chosen={chosen} onChoose={setChosen} />
            ) : (
              <Sought text={sought} chosen={chosen} onChoose={setChosen} />
            )}
          </Box>
        </Box>
        <Chosen document={document} crs={chosen} />
      </Box>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" disabled={chosen === now} onClick={use}>
          Use this projection
        </Button>
      </DialogActions>
    </Dialog>
  )
}

interface ListProps {
  chosen: string
  onChoose: (crs: string) => void
}

const WEBS_OWN: Entry = {
  crs: WEB_MERCATOR,
  name: 'EPSG:3857 · Web Mercator',
  words: 'What most other web maps lie in: tiles fit over theirs, but areas grow towards the poles.',
}

function Suggested({ document, chosen, onChoose }: ListProps & { document: Sheet }) {
  const { data, isPending } = useSuggestions(document)
  const now = useCrs()
  const figures = useFigures(now)
  if (isPending) return <Note>Looking at where the data lie …</Note>
  if (!data?.length) return <Note>There are no data on this map yet that a projection could suit. Search for one.</Note>
  const suited = data.map((item): Entry => ({ ...item, words: item.reason }))
  const has = (crs: string) => suited.some((suggestion) => suggestion.crs === crs)
  const all = [
    ...suited,
    ...(has(WEB_MERCATOR) ? [] : [WEBS_OWN]),
    ...(has(now) || now === WEB_MERCATOR
      ? []
      : [{ crs: now, name: figures.data?.name ?? now, words: 'As the map lies now.' }]),
  ]
  return (
    <List label="Projections that suit this map">
      {all.map((entry) => (
        <Line key={entry.crs} entry={entry} chosen={chosen === entry.crs} onChoose={onChoose}>
          <Small document={document} crs={entry.crs} />
        </Line>
      ))}
    </List>
  )
}

/** What was typed may be a definition itself: it can be tried like any entry. */
function Sought({ text, chosen, onChoose }: ListProps & { text: string }) {
  const { data, isPending } = useListed(text)
  const listed = (data ?? []).map((item): Entry => ({
    crs: item.crs,
    name: `${item.crs} · ${item.name}`,
    words: item.area,
  }))
  const isOne = /^\+proj=|^[A-Za-z]{2,12}:\d+$/.test(text) && !listed.some((entry) => entry.crs === text.toUpperCase())
  const all = isOne ? [{ crs: text, name: text, words: 'As you typed it.' }, ...listed] : listed
  if (isPending) return <Note>Searching …</Note>
  if (all.length === 0) return <Note>Nothing in PROJ’s list has “{text}” in its name, code or area.</Note>
  return (
    <List label="Projections found">
      {all.map((entry) => (
        <Line key={entry.crs} entry={entry} chosen={chosen === entry.crs} onChoose={onChoose} />
      ))}
    </List>
  )
}

function List({ label, children }: { label: string; children: React.ReactNode }) {
  return (
    <Box component="ul" aria-label={label} sx={{ m: 0, p: 0, listStyle: 'none' }}>
      {children}
    </Box>
  )
}

/** The area of use of a system of the whole world is the list of all its countries. */
const CLAMPED = {
  m: 0,
  display: '-webkit-box',
  WebkitLineClamp: 3,
  WebkitBoxOrient: 'vertical',
  overflow: 'hidden',
} as const

interface LineProps {
  entry: Entry
  chosen: boolean
  onChoose: (crs: string) => void
  children?: React.ReactNode
}

function Line({ entry, chosen, onChoose, children }: LineProps) {
  return (
    <Box component="li" sx={{ borderBottom: 1, borderColor: 'line' }}>
      <ButtonBase
        onClick={() => onChoose(entry.crs)}
        aria-pressed={chosen}
        sx={{
          width: '100%',
          display: 'flex',
          gap: 2,
          justifyContent: 'flex-start',
          alignItems: 'flex-start',
          textAlign: 'left',
          px: 3,
          py: 1.5,
          bgcolor: chosen ? 'action.selected' : 'transparent',
          boxShadow: chosen ? (theme) => `inset 3px 0 ${theme.palette.primary.main}` : 'none',
        }}
      >
        {children}
        <Box sx={{ minWidth: 0 }}>
          <Typography variant="body2" sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>
            {entry.name}
          </Typography>
          <Typography variant="caption" color="text.secondary" component="p" sx={CLAMPED}>
            {entry.words}
          </Typography>
        </Box>
      </ButtonBase>
    </Box>
  )
}

const SMALL = { width: 104, height: 66 }

function Small({ document, crs }: { document: Sheet; crs: string }) {
  const { data } = usePicture(document, crs, SMALL.width * 2, SMALL.height * 2)
  return (
    <Box sx={{ ...SMALL, flexShrink: 0, bgcolor: 'line' }}>
      {data && <img src={data} alt="" width={SMALL.width} height={SMALL.height} style={{ display: 'block' }} />}
    </Box>
  )
}

function Note({ children }: { children: React.ReactNode }) {
  return (
    <Typography variant="body2" color="text.secondary" sx={{ px: 3, py: 2 }}>
      {children}
    </Typography>
  )
}
