import type { ChangeEvent } from 'react'
import Box from '@mui/material/Box'
import type { SxProps } from '@mui/material/styles'

interface Props<T extends string> {
  label: string
  value: T
  /** Values with their words, or values that are words. */
  options: readonly (T | readonly [T, string])[]
  onChange: (value: T) => void
  disabled?: boolean
  sx?: SxProps
}

/** A choice in little room: the browser's own list, which is quick by keyboard and finger. */
export function PlainSelect<T extends string>({ label, value, options, onChange, disabled = false, sx }: Props<T>) {
  return (
    <Box
      component="select"
      aria-label={label}
      value={value}
      disabled={disabled}
      onChange={(e: ChangeEvent<HTMLSelectElement>) => onChange(e.target.value as T)}
      sx={{
        font: 'inherit',
        fontSize: 13,
        height: 26,
        bgcolor: 'raised',
        color: 'text.primary',
        borderColor: 'line',
        ...sx,
      }}
    >
      {options.map((option) => {
        const [key, words] = typeof option === 'string' ? [option, option] : option
        return (
          <option key={key} value={key}>
            {words}
          </option>
        )
      })}
    </Box>
  )
}
