import type { ReactNode } from 'react'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { moveAlong } from '../course/tabs'

interface Props<T extends string> {
  /** Of which stage these are the parts. */
  label: string
  parts: Record<T, string>
  value: T
  onChange: (part: T) => void
  children: ReactNode
}

/** The parts of a stage at its left, one of which is open. */
export function SideTabs<T extends string>({ label, parts, value, onChange, children }: Props<T>) {
  const names = Object.keys(parts) as T[]
  const stage = label.toLowerCase()
  const tabId = (part: T) => `${stage}-${part}`
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '124px minmax(0, 1fr)', height: '100%' }}>
      <Box
        role="tablist"
        aria-orientation="vertical"
        aria-label={label}
        onKeyDown={(e) => moveAlong(e, names, value, onChange, tabId)}
        sx={{ borderRight: 1, borderColor: 'line', py: 1 }}
      >
        {names.map((name) => (
          <ButtonBase
            key={name}
            role="tab"
            id={tabId(name)}
            aria-selected={name === value}
            aria-controls={`${stage}-part`}
            tabIndex={name === value ? 0 : -1}
            onClick={() => onChange(name)}
            sx={{
              display: 'block',
              width: '100%',
              textAlign: 'left',
              px: 3,
              py: 1,
              fontSize: 13,
              fontWeight: name === value ? 600 : 400,
              borderLeft: 2,
              borderColor: name === value ? 'primary.main' : 'transparent',
              '&:hover': { bgcolor: 'tint' },
            }}
          >
            {parts[name]}
          </ButtonBase>
        ))}
      </Box>
      <Box
        id={`${stage}-part`}
        role="tabpanel"
        aria-labelledby={tabId(value)}
        sx={{ minHeight: 0, minWidth: 0, overflow: 'hidden', display: 'flex', flexDirection: 'column' }}
      >
        {children}
      </Box>
    </Box>
  )
}
