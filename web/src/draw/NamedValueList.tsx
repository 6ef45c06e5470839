import Box from '@mui/material/Box'
import InputBase from '@mui/material/InputBase'
import type { NamedValues } from '../api/types'
import { ColourField } from './ColourField'

type Named = NamedValues['values'][number]

/** What the values of a raster stand for: a name and a colour for each, and whether it is drawn. */
export function NamedValueList({ values, onChange }: { values: Named[]; onChange: (values: Named[]) => void }) {
  const set = (at: number, change: Partial<Named>) =>
    onChange(values.map((value, i) => (i === at ? { ...value, ...change } : value)))
  return (
    <Box role="list" aria-label="Named values" sx={{ display: 'flex', flexDirection: 'column', minWidth: 300 }}>
      {values.map((each, i) => (
        <Box
          key={each.value}
          role="listitem"
          sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 30, opacity: each.drawn ? 1 : 0.5 }}
        >
          <ColourField
            label={`Colour of ${each.value}`}
            value={each.colour}
            onChange={(colour) => set(i, { colour })}
          />
          <Box className="mono" sx={{ width: 52, fontSize: 13, textAlign: 'right' }}>
            {each.value}
          </Box>
          <InputBase
            defaultValue={each.name}
            key={each.name}
            placeholder="stands for …"
            inputProps={{ 'aria-label': `Name of ${each.value}` }}
            onBlur={(e) => e.target.value !== each.name && set(i, { name: e.target.value })}
            onKeyDown={(e) => e.key === 'Enter' && (e.target as HTMLElement).blur()}
            sx={{ flex: 1, fontSize: 13, borderBottom: 1, borderColor: 'line' }}
          />
          <label style={{ fontSize: 13, minHeight: 24 }}>
            <input
              type="checkbox"
              aria-label={`Draw ${each.value}`}
              checked={each.drawn}
              onChange={(e) => set(i, { drawn: e.target.checked })}
            />{' '}
            drawn
          </label>
        </Box>
      ))}
    </Box>
  )
}
