import { useState } from 'react'
import Box from '@mui/material/Box'
import InputBase from '@mui/material/InputBase'

/** A colour: a swatch that opens the browser's picker, and its code to type. */
export function ColourField({
  label,
  value,
  short = false,
  onChange,
}: {
  label: string
  value: string
  /** The swatch alone, without its code. */
  short?: boolean
  onChange: (colour: string) => void
}) {
  const [draft, setDraft] = useState<string | null>(null)
  return (
    <Box
      sx={{
        display: 'inline-flex',
        alignItems: 'center',
        gap: 1,
        border: 1,
        borderColor: 'line',
        bgcolor: 'raised',
        pr: short ? 0 : 1,
        height: 26,
      }}
    >
      <Box
        component="input"
        type="color"
        aria-label={label}
        value={value}
        onChange={(e: React.ChangeEvent<HTMLInputElement>) => onChange(e.target.value)}
        sx={{ width: 26, height: 24, p: 0, border: 0, bgcolor: 'transparent', cursor: 'pointer' }}
      />
      {!short && (
        <InputBase
          value={draft ?? value}
          inputProps={{ 'aria-label': `${label}, code`, maxLength: 7 }}
          onChange={(e) => {
            setDraft(e.target.value)
            if (/^#[0-9a-f]{6}$/i.test(e.target.value)) onChange(e.target.value.toLowerCase())
          }}
          onBlur={() => setDraft(null)}
          className="mono"
          sx={{ width: 62, fontFamily: '"Source Code Pro", monospace', fontSize: 12, '& input': { p: 0 } }}
        />
      )}
    </Box>
  )
}
