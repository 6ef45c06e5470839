import { lazy, Suspense, useEffect, useMemo, useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import { Navigate, Route, Routes } from 'react-router'
import CssBaseline from '@mui/material/CssBaseline'
import { ThemeProvider } from '@mui/material/styles'
import { answered, client } from './api/client'
import { Sheets } from './home/Sheets'
import { SignIn } from './home/SignIn'
import { Invited } from './people/Invited'
import { NewPassword } from './people/NewPassword'
import { ModeContext } from './mode'
import { type Mode, themeFor } from './theme'

const editor = () => import('./Editor')
const Editor = lazy(editor)
const ApiPage = lazy(() => import('./home/ApiPage'))
const People = lazy(() => import('./people/People'))

const DARK = '(prefers-color-scheme: dark)'

function chosenMode(): Mode | null {
  const kept = localStorage.getItem('theme')
  return kept === 'graphite' || kept === 'light' ? kept : null
}

function systemMode(): Mode {
  return window.matchMedia(DARK).matches ? 'graphite' : 'light'
}

export function App() {
  const [mode, setMode] = useState<Mode>(() => chosenMode() ?? systemMode())
  useEffect(() => {
    // Until one is chosen by hand, the theme is that of the system, also when that changes.
    const system = window.matchMedia(DARK)
    const follow = () => setMode(chosenMode() ?? systemMode())
    system.addEventListener('change', follow)
    return () => system.removeEventListener('change', follow)
  }, [])
  const theme = useMemo(() => themeFor(mode), [mode])
  const turning = useMemo(
    () => ({
      mode,
      turn: () => {
        const next = mode === 'light' ? 'graphite' : 'light'
        localStorage.setItem('theme', next)
        setMode(next)
      },
    }),
    [mode],
  )
  const session = useQuery({
    queryKey: ['session'],
    queryFn: () => answered(client.GET('/api/session')),
    staleTime: 60_000,
  })
  const signedIn = Boolean(session.data?.name)
  useEffect(() => {
    // From the list one goes on to a sheet: what shows it is fetched while the list is looked at.
    if (signedIn) setTimeout(() => void editor(), 0)
  }, [signedIn])
  return (
    <ModeContext value={turning}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        {session.isPending ? null : session.data?.name ? (
          <Suspense fallback={null}>
            <Routes>
              <Route path="/" element={<Sheets me={session.data.name} />} />
              <Route path="/people" element={<People me={session.data.name} />} />
              <Route path="/invited/:token" element={<Invited me={session.data.name} />} />
              <Route path="/new-password/:person/:token" element={<NewPassword />} />
              <Route path="/about-api" element={<ApiPage />} />
              <Route path="/sheets/:id/:stage?" element={<Editor me={session.data.name} />} />
              <Route path="*" element={<Navigate to="/" replace />} />
            </Routes>
          </Suspense>
        ) : (
          <Routes>
            <Route path="/invited/:token" element={<Invited me={null} />} />
            <Route path="/new-password/:person/:token" element={<NewPassword />} />
            <Route path="*" element={<SignIn />} />
          </Routes>
        )}
      </ThemeProvider>
    </ModeContext>
  )
}
