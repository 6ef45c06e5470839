import type { ReactNode } from 'react'
import Box from '@mui/material/Box'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Slider from '@mui/material/Slider'
import Typography from '@mui/material/Typography'
import { Check } from './Check'
import { EditableNumber } from './EditableNumber'
import type { NumberLimits } from './within'

/** A control with its name before it, in the bench's one rhythm. */
export function Labelled({ label, children, wide = false }: { label: string; children: ReactNode; wide?: boolean }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '92px minmax(0, 1fr)',
        alignItems: 'center',
        minHeight: 29,
        width: wide ? '100%' : 270,
        maxWidth: '100%',
      }}
    >
      <Typography variant="body2" color="text.secondary" component="span">
        {label}
      </Typography>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, minWidth: 0 }}>{children}</Box>
    </Box>
  )
}

interface LabelledCheckProps {
  label: string
  words: string
  checked: boolean
  onChange: (on: boolean) => void
}

/** Something that is so or not, beside what it is about. */
export function LabelledCheck({ label, words, checked, onChange }: LabelledCheckProps) {
  return (
    <Labelled label={label}>
      <Check label={words} checked={checked} onChange={onChange} />
    </Labelled>
  )
}

interface ChoiceProps<T extends string> {
  label: string
  value: T
  options: readonly (readonly [T, string])[]
  onChange: (value: T) => void
}

export function Choice<T extends string>({ label, value, options, onChange }: ChoiceProps<T>) {
  return (
    <Labelled label={label}>
      <Select<T>
        value={value}
        onChange={(e) => onChange(e.target.value as T)}
        fullWidth
        inputProps={{ 'aria-label': label }}
        MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}
      >
        {options.map(([key, words]) => (
          <MenuItem key={key} value={key}>
            {words}
          </MenuItem>
        ))}
      </Select>
    </Labelled>
  )
}

interface AmountProps {
  label: string
  value: number
  /** What it may be; the hand goes so far as well, unless a part of it is enough for that. */
  limits?: NumberLimits
  from?: number
  to?: number
  step: number
  onChange: (value: number) => void
}

/** A number that is dragged or typed. */
export function Amount(props: AmountProps) {
  const { label, value, limits = {}, from = limits.least ?? 0, to = limits.most ?? 1, step, onChange } = props
  return (
    <Labelled label={label}>
      <Slider
        value={Math.min(Math.max(value, from), to)}
        min={from}
        max={to}
        step={step}
        onChange={(_, v) => onChange(v as number)}
        aria-label={label}
        sx={{ flex: 1, mx: 1 }}
      />
      <EditableNumber label={`${label}, number`} value={value} limits={limits} onChange={onChange} width={52} />
    </Labelled>
  )
}
