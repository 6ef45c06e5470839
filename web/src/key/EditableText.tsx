import { useState } from 'react'
import InputBase from '@mui/material/InputBase'
import type { SxProps } from '@mui/material/styles'

interface Props {
  value: string
  label: string
  onChange: (value: string) => void
  /** Not to be edited now: clicks go through to what is behind. */
  locked?: boolean
  /** Characters at most. */
  most?: number
  placeholder?: string
  sx?: SxProps
}

/** Text that is reworded where it stands: Enter or leaving keeps it, Escape takes it back. */
export function EditableText({ value, label, onChange, locked = false, most, placeholder, sx }: Props) {
  const [draft, setDraft] = useState<string | null>(null)
  const keep = () => {
    if (draft !== null && draft !== value) onChange(draft)
    setDraft(null)
  }
  return (
    <InputBase
      value={draft ?? value}
      readOnly={locked}
      placeholder={placeholder}
      onFocus={() => setDraft(value)}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') (e.target as HTMLElement).blur()
        if (e.key === 'Escape') {
          setDraft(null)
          e.stopPropagation()
        }
      }}
      inputProps={{ 'aria-label': label, maxLength: most, tabIndex: locked ? -1 : 0 }}
      sx={{
        flex: 1,
        fontSize: 13,
        minWidth: 0,
        pointerEvents: locked ? 'none' : 'auto',
        '& input': {
          p: 0,
          textOverflow: 'ellipsis',
          borderBottom: '1px solid transparent',
          '&:hover': { borderColor: 'line' },
          '&:focus': { borderColor: 'primary.main' },
        },
        ...sx,
      }}
    />
  )
}
