import Box from '@mui/material/Box'
import type { Distribution } from '../api/types'

/** Minimum, maximum, mean, median, missing: always in view. */
export function Figures({ of }: { of: Distribution }) {
  const text = (value: number | null | undefined) =>
    value == null ? '–' : value.toLocaleString('en', { maximumSignificantDigits: 5 })
  const figures: [string, string][] = [
    ['min', text(of.minimum)],
    ['median', text(of.median)],
    ['mean', text(of.mean)],
    ['max', text(of.maximum)],
    ['n', of.n.toLocaleString('en')],
    ['missing', of.missing.toLocaleString('en')],
  ]
  return (
    <Box
      component="dl"
      sx={{ display: 'flex', columnGap: 2.5, m: 0, px: 3, pt: 1.5, fontSize: 12.5, flexWrap: 'wrap' }}
    >
      {figures.map(([name, value]) => (
        <Box key={name} sx={{ display: 'flex', gap: 1 }}>
          <Box component="dt" sx={{ color: 'text.secondary' }}>
            {name}
          </Box>
          <Box component="dd" className="mono" sx={{ m: 0 }}>
            {value}
          </Box>
        </Box>
      ))}
    </Box>
  )
}
