import type { ReactNode } from 'react'
import { Link as RouterLink, useLocation } from 'react-router'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { Account } from '../course/Account'

interface Props {
  me: string
  title: string
  /** What stands beside the title. */
  action?: ReactNode
  children: ReactNode
}

const PAGES = { '/': 'Sheets', '/people': 'People' } as const

/** A page that is no map: the name of the product, the other pages, the account, and one column below. */
export function Desk({ me, title, action, children }: Props) {
  const { pathname } = useLocation()
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 6,
          px: 4,
          height: 40,
          borderBottom: 1,
          borderColor: 'line',
          bgcolor: 'background.paper',
        }}
      >
        <Typography sx={{ fontWeight: 600 }}>Grey Latch</Typography>
        <Box component="nav" aria-label="Pages" sx={{ flex: 1, display: 'flex', gap: 4 }}>
          {Object.entries(PAGES).map(([to, words]) => (
            <Typography
              key={to}
              component={RouterLink}
              to={to}
              aria-current={pathname === to ? 'page' : undefined}
              sx={{
                fontSize: 14,
                color: pathname === to ? 'text.primary' : 'text.secondary',
                textDecoration: 'none',
                '&:hover': { textDecoration: 'underline' },
              }}
            >
              {words}
            </Typography>
          ))}
        </Box>
        <Account me={me} />
      </Box>
      <Box component="main" sx={{ maxWidth: 760, mx: 'auto', px: 4, py: 8 }}>
        <Box sx={{ display: 'flex', alignItems: 'baseline', mb: 3 }}>
          <Typography component="h1" sx={{ fontSize: 20, fontWeight: 600, flex: 1 }}>
            {title}
          </Typography>
          {action}
        </Box>
        {children}
      </Box>
    </Box>
  )
}
