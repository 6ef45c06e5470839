import { useState } from 'react'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Tooltip from '@mui/material/Tooltip'
import type { Edit, Field } from '../api/types'
import { Glyph } from '../Glyph'
import { isNumeric, meansOf } from '../fields'
import { counted } from '../wording'

export const WORDS = { text: 'text', integer: 'whole numbers', number: 'numbers', date: 'dates', boolean: 'yes or no' }

interface Props {
  field: Field
  busy: boolean
  only: boolean
  onEdit: (edit: Edit) => void
}

/** A field in the list: what it holds and what it means, which can be set right. */
export function FieldLine({ field, busy, only, onEdit }: Props) {
  const { name, meaning } = field
  const say = (change: Partial<Omit<Field['meaning'], 'reason'>>) => {
    const { kind, unit, decimals, missing } = { ...meaning, ...change }
    onEdit({ do: 'describe-field', name, kind, unit, decimals, missing })
  }
  const typed = (text: string) => text.split(/[;\s]+/).filter(Boolean)
  return (
    <tr>
      <td>
        <strong>{name}</strong>
      </td>
      <td>{WORDS[field.type as keyof typeof WORDS]}</td>
      <td>{field.missing ? `${counted(field.missing, 'row')} without` : 'in every row'}</td>
      <td>
        <Tooltip title={meaning.reason}>
          <Box
            component="select"
            aria-label={`What ${name} means`}
            value={meaning.kind}
            disabled={busy}
            onChange={(e) => say({ kind: (e.target as HTMLSelectElement).value as Field['meaning']['kind'] })}
            sx={{ font: 'inherit', fontSize: 13, height: 24, bgcolor: 'raised', color: 'text.primary' }}
          >
            {Object.entries(meansOf).map(([kind, words]) => (
              <option key={kind} value={kind}>
                {words}
              </option>
            ))}
          </Box>
        </Tooltip>
      </td>
      <td>
        {isNumeric(field) && <Typed label={`Unit of ${name}`} value={meaning.unit} onKeep={(unit) => say({ unit })} />}
      </td>
      <td>
        {isNumeric(field) && (
          <Typed
            label={`Decimals of ${name}`}
            value={meaning.decimals === null ? '' : String(meaning.decimals)}
            fits={/^([0-9]|10)?$/}
            onKeep={(text) => say({ decimals: text === '' ? null : Number(text) })}
          />
        )}
      </td>
      <td>
        <Typed
          label={`What stands for missing in ${name}`}
          value={meaning.missing.join('; ')}
          width={92}
          fits={isNumeric(field) ? /^(-?[\d.]+([;\s]+|$))*$/ : /.*/}
          onKeep={(text) => say({ missing: isNumeric(field) ? typed(text).map(Number) : typed(text) })}
        />
      </td>
      <td style={{ textAlign: 'right' }}>
        <Tooltip title={`Take '${name}' out`}>
          <span>
            <IconButton
              aria-label={`Take '${name}' out`}
              disabled={busy || only}
              onClick={() => onEdit({ do: 'delete-field', name })}
            >
              <Glyph name="remove" />
            </IconButton>
          </span>
        </Tooltip>
      </td>
    </tr>
  )
}

interface TypedProps {
  label: string
  value: string
  width?: number
  /** What may be typed. */
  fits?: RegExp
  onKeep: (value: string) => void
}

/** A short text: Enter or leaving keeps it, Escape and what does not fit take it back. */
function Typed({ label, value, width = 56, fits = /.*/, onKeep }: TypedProps) {
  const [draft, setDraft] = useState<string | null>(null)
  const keep = () => {
    if (draft !== null && draft.trim() !== value && fits.test(draft.trim())) onKeep(draft.trim())
    setDraft(null)
  }
  return (
    <InputBase
      value={draft ?? value}
      error={draft !== null && !fits.test(draft.trim())}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={keep}
      onKeyDown={(e) => {
        if (e.key === 'Enter') keep()
        if (e.key !== 'Escape' || draft === null) return
        e.stopPropagation()
        setDraft(null)
      }}
      inputProps={{ 'aria-label': label }}
      sx={{
        width,
        fontSize: 13,
        border: 1,
        borderColor: draft !== null && !fits.test(draft.trim()) ? 'error.main' : 'line',
        bgcolor: 'raised',
        px: 0.75,
        height: 24,
        '& input': { p: 0 },
      }}
    />
  )
}
