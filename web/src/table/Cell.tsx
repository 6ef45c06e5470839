import { useState } from 'react'
import Box from '@mui/material/Box'
import InputBase from '@mui/material/InputBase'
import type { Dataset } from '../api/types'
import { isNumeric } from '../fields'
import { COLUMN } from './Rows'

export type Value = string | number | boolean | null

interface Props {
  field: Dataset['fields'][number]
  value: Value
  /** Which cell it is, for those who hear it. */
  where: string
  open: boolean
  /** Whether it is among several that are selected, and whether it is the one that keys have come to. */
  inRange: boolean
  isHead: boolean
  /** How it stays in view, where its column does. */
  frozen: object
  onSelect: (extend: boolean) => void
  onOpen: () => void
  /** Where to go on from an open cell: nowhere, to the row below, or so many fields further. */
  onClose: (next: null | 'below' | 1 | -1) => void
  onKeep: (value: string | null) => Promise<void>
}

/** A cell: shown, or typed into. What does not fit is said right below it, and stays there to be mended. */
export function Cell({ field, value, where, open, inRange, isHead, frozen, onSelect, onOpen, onClose, onKeep }: Props) {
  const align = isNumeric(field) ? 'right' : 'left'
  if (open) return <OpenCell {...{ field, value, where, onClose, onKeep }} />
  return (
    <Box
      role="gridcell"
      data-selected={inRange || isHead || undefined}
      onDoubleClick={onOpen}
      onMouseDown={(e) => e.button === 0 && onSelect(e.shiftKey)}
      onMouseEnter={(e) => e.buttons === 1 && onSelect(true)}
      sx={{
        ...frozen,
        ...(inRange && { bgcolor: 'tint' }),
        boxShadow: isHead ? 'inset 0 0 0 1px #8a6514' : 'none',
        userSelect: 'none',
        width: COLUMN,
        height: '100%',
        lineHeight: '22px',
        px: 1,
        overflow: 'hidden',
        textOverflow: 'ellipsis',
        whiteSpace: 'nowrap',
        textAlign: align,
      }}
    >
      {shown(value)}
    </Box>
  )
}

function OpenCell({
  field,
  value,
  where,
  onClose,
  onKeep,
}: Pick<Props, 'field' | 'value' | 'where' | 'onClose' | 'onKeep'>) {
  const before = value === null ? '' : typeof value === 'boolean' ? (value ? 'yes' : 'no') : asDay(String(value))
  const [draft, setDraft] = useState(before)
  const [trouble, setTrouble] = useState<string | null>(null)
  const keep = async (next: null | 'below' | 1 | -1) => {
    if (draft === before) return onClose(next)
    try {
      await onKeep(draft.trim() === '' ? null : draft)
      onClose(next)
    } catch (error) {
      setTrouble((error as Error).message)
    }
  }
  return (
    <Box role="gridcell" sx={{ width: COLUMN, position: 'relative' }}>
      <InputBase
        autoFocus
        value={draft}
        error={trouble !== null}
        onFocus={(e) => e.target.select()}
        onChange={(e) => {
          setDraft(e.target.value)
          setTrouble(null)
        }}
        onBlur={() => trouble === null && void keep(null)}
        onKeyDown={(e) => {
          e.stopPropagation()
          if (e.key === 'Escape') onClose(null)
          else if (e.key === 'Enter') void keep('below')
          else if (e.key === 'Tab') void keep(e.shiftKey ? -1 : 1)
          else return
          e.preventDefault()
        }}
        inputProps={{ 'aria-label': where, 'aria-invalid': trouble !== null }}
        sx={{
          width: '100%',
          height: 22,
          px: 1,
          fontSize: 12.5,
          bgcolor: 'raised',
          outline: 2,
          outlineColor: trouble ? 'error.main' : 'primary.main',
          outlineStyle: 'solid',
          '& input': { p: 0, textAlign: isNumeric(field) ? 'right' : 'left' },
        }}
      />
      {trouble && (
        <Box
          role="alert"
          sx={{
            position: 'absolute',
            top: 24,
            left: 0,
            zIndex: 2,
            width: 280,
            p: 1,
            bgcolor: 'background.paper',
            border: 1,
            borderColor: 'error.main',
            color: 'error.main',
            whiteSpace: 'normal',
          }}
        >
          {trouble}
        </Box>
      )}
    </Box>
  )
}

function shown(value: Value): string {
  if (value === null) return ''
  if (typeof value === 'number') return value.toLocaleString('en', { maximumFractionDigits: 6 })
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return asDay(value)
}

/** A day without the hour that nobody wrote. */
function asDay(text: string): string {
  return text.replace(/^(\d{4}-\d\d-\d\d)T00:00:00$/, '$1')
}
