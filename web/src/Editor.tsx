import { useEffect, useRef, useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import { Link as RouterLink, useNavigate, useParams } from 'react-router'
import Alert from '@mui/material/Alert'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import { answered, client, Refused } from './api/client'
import { Bench } from './bench/Bench'
import { Course } from './course/Course'
import { TopBar } from './course/TopBar'
import { BringingIn } from './gather/BringingIn'
import { Key } from './key/Key'
import { Finder } from './keys/Finder'
import { KeyList } from './keys/KeyList'
import { useShortcuts } from './keys/useShortcuts'
import { useMe } from './people/queries'
import { LastEdition } from './publish/LastEdition'
import { copyOf } from './sheet/copying'
import { MapView } from './sheet/MapView'
import { startingQuery } from './sheet/queries'
import { STAGES, useSheet } from './sheet/store'

/** Course on top, key at the left, sheet, bench below. The map never leaves the screen. */
export default function Editor({ me }: { me: string }) {
  const { id, stage } = useParams()
  const sheet = useQuery({
    queryKey: ['sheet', id],
    queryFn: () => answered(client.GET('/api/sheets/{sheet_id}', { params: { path: { sheet_id: id ?? '' } } })),
    gcTime: 0,
    staleTime: Infinity,
  })
  const opened = useSheet((s) => s.id)
  const [bare, setBare] = useState(false)
  const [compared, setCompared] = useState(false)
  const [panel, setPanel] = useState<'keys' | 'find' | null>(null)
  useShortcuts({ setBare, setCompared, showKeys: () => setPanel('keys'), showFinder: () => setPanel('find') })

  useEffect(() => {
    if (!sheet.data) return
    const { id: pk, revision, document, may, owner } = sheet.data
    const now = useSheet.getState()
    // What was changed here stays; that it was changed elsewhere too is said when it is kept.
    if (now.id === pk && now.unkept) return
    now.open(pk, revision, document, may.includes('change') ? null : owner)
  }, [sheet.data])
  useEffect(() => () => void useSheet.getState().flush(), [id])
  const page = useRef<HTMLElement>(null)
  const untitled = useQuery(startingQuery).data?.sheet.title
  const ready = sheet.data !== undefined && opened === sheet.data.id
  useEffect(() => {
    // What was pressed to come here is gone: a new sheet asks for its name, any other begins at its top.
    if (!ready || document.activeElement !== document.body) return
    const title = document.querySelector<HTMLInputElement>('[aria-label="Title of the sheet"]')
    if (title && title.value === untitled) title.select()
    else page.current?.focus()
  }, [ready, untitled])
  useEffect(() => {
    // Nobody leaves a change behind without being told.
    const leaving = (event: BeforeUnloadEvent) => {
      if (useSheet.getState().unkept) event.preventDefault()
    }
    // What the server refused where nothing on the screen would say so is said above.
    const refused = (event: PromiseRejectionEvent) => {
      if (!(event.reason instanceof Refused)) return
      event.preventDefault()
      useSheet.setState({ trouble: event.reason.message })
    }
    window.addEventListener('beforeunload', leaving)
    window.addEventListener('unhandledrejection', refused)
    return () => {
      window.removeEventListener('beforeunload', leaving)
      window.removeEventListener('unhandledrejection', refused)
    }
  }, [])
  useEffect(() => {
    const wanted = STAGES.find((known) => known === stage)
    if (wanted) useSheet.getState().show(wanted)
  }, [stage])

  if (sheet.isError)
    return (
      <Box sx={{ p: 8 }}>
        <Alert severity="warning">
          {sheet.error.message}{' '}
          <Link component={RouterLink} to="/">
            To your sheets
          </Link>
        </Alert>
      </Box>
    )
  if (!ready) return null
  return (
    <Box
      ref={page}
      tabIndex={-1}
      sx={{ height: '100%', display: 'flex', flexDirection: 'column', '&:focus': { outline: 'none' } }}
    >
      {!bare && <SkipLinks />}
      {!bare && (
        <>
          <TopBar me={me} onKeys={() => setPanel('keys')} onFind={() => setPanel('find')} />
          <Course />
        </>
      )}
      <StaleNote />
      <LookingNote />
      <Box sx={{ flex: 1, display: 'flex', minHeight: 0 }}>
        {!bare && <Key />}
        <Box
          component="main"
          id="map"
          tabIndex={-1}
          aria-label="Sheet"
          sx={{ flex: 1, display: 'flex', flexDirection: 'column', minWidth: 0 }}
        >
          <Box sx={{ flex: 1, position: 'relative', minHeight: 80 }}>
            <MapView />
            {compared && <LastEdition />}
          </Box>
          {!bare && <Bench />}
        </Box>
      </Box>
      <BringingIn key={id} />
      <KeyList open={panel === 'keys'} onClose={() => setPanel(null)} />
      <Finder open={panel === 'find'} onClose={() => setPanel(null)} />
    </Box>
  )
}

const PLACES = { map: 'map', key: 'key', bench: 'bench' } as const

/** The first thing that the keyboard reaches: the three parts of the page. */
function SkipLinks() {
  return (
    <Box component="nav" aria-label="Parts of the page">
      {Object.entries(PLACES).map(([id, words]) => (
        <Box
          key={id}
          component="a"
          href={`#${id}`}
          onClick={(e) => {
            e.preventDefault()
            document.getElementById(id)?.focus()
          }}
          sx={{
            position: 'absolute',
            left: 8,
            top: -60,
            zIndex: 20,
            px: 3,
            py: 1.5,
            bgcolor: 'raised',
            color: 'text.primary',
            '&:focus': { top: 6 },
          }}
        >
          To the {words}
        </Box>
      ))}
    </Box>
  )
}

/** A sheet that is shared to be looked at: nothing is changed in it, but one can begin one's own from it. */
function LookingNote() {
  const owner = useSheet((s) => s.lookingAt)
  const id = useSheet((s) => s.id)
  const makes = useMe()?.makes
  const go = useNavigate()
  if (!owner || !id) return null
  return (
    <Alert
      severity="info"
      icon={false}
      sx={{ borderRadius: 0, py: 0, bgcolor: 'tint', color: 'text.primary' }}
      action={
        makes && (
          <Button onClick={() => void copyOf(id).then((copy) => go(`/sheets/${copy.id}`))}>
            Make a copy of my own
          </Button>
        )
      }
    >
      This sheet is {owner}'s. You may look at it, not change it.
    </Alert>
  )
}

/** Somebody else kept a change first: both versions are at hand, nothing is lost until a person chooses. */
function StaleNote() {
  const stale = useSheet((s) => s.stale)
  const takeTheirs = useSheet((s) => s.takeTheirs)
  const keepMine = useSheet((s) => s.keepMine)
  if (!stale) return null
  return (
    <Alert
      severity="warning"
      sx={{ borderRadius: 0, py: 0 }}
      action={
        <>
          <Button onClick={takeTheirs}>Take that version</Button>
          <Button onClick={keepMine}>Keep mine over it</Button>
        </>
      }
    >
      This sheet was changed elsewhere: revision {stale.revision} is the newest. Your own changes since then are not
      kept yet.
    </Alert>
  )
}
