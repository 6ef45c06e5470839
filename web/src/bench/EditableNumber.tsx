import { useState } from 'react'
import InputBase from '@mui/material/InputBase'
import { limitsInWords, within, type NumberLimits } from './within'

/** A typed number: Enter or leaving keeps it, Escape and what is no number take it back. Beyond what may be it is the nearest that may. */
export function EditableNumber({
  label,
  value,
  limits = {},
  onChange,
  width = 80,
}: {
  label: string
  value: number
  limits?: NumberLimits
  onChange: (value: number) => void
  width?: number
}) {
  const [draft, setDraft] = useState<string | null>(null)
  const shown = Number.isInteger(value) ? String(value) : String(Number(value.toPrecision(7)))
  const keep = () => {
    if (draft !== null && draft.trim() !== '') {
      const typed = Number(draft.replace(/,/g, ''))
      const next = Number.isFinite(typed) ? within(limits, typed) : null
      if (next !== null && next !== value) onChange(next)
    }
    setDraft(null)
  }
  return (
    <InputBase
      value={draft ?? shown}
      title={limitsInWords(limits) || undefined}
      onFocus={(e) => {
        setDraft(shown)
        e.target.select()
      }}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') keep()
        if (e.key === 'Escape') setDraft(null)
      }}
      inputProps={{ 'aria-label': label, inputMode: 'decimal' }}
      sx={{
        width,
        fontSize: 12.5,
        border: 1,
        borderColor: 'line',
        bgcolor: 'raised',
        px: 0.75,
        height: 24,
        '& input': { p: 0, textAlign: 'right', fontFamily: '"Source Code Pro", monospace', fontSize: 12 },
      }}
    />
  )
}
