import { memo, useState } from 'react'
import Box from '@mui/material/Box'
import InputBase from '@mui/material/InputBase'
import type { Dataset } from '../api/types'
import { isNumeric } from '../fields'
import { cellText } from './cellText'
import type { Acts } from './Row'
import { leftOf } from './sizes'

export type Value = string | number | boolean | null

/** Where to go on from an open cell: nowhere, to the row below, or so many fields further. */
export type Next = null | 'below' | 1 | -1

interface Props {
  field: Dataset['fields'][number]
  value: Value
  row: number
  fid: number
  column: number
  open: boolean
  /** Whether it is among several that are selected, and whether it is the one that keys have come to. */
  inRange: boolean
  isHead: boolean
  /** How many columns stay in view. */
  frozen: number
  acts: Acts
}

/** A cell: shown, or typed into. What does not fit is said right below it, and stays there to be mended. */
export const Cell = memo(function Cell(props: Props) {
  const { field, value, row, fid, column, open, inRange, isHead, frozen, acts } = props
  if (open)
    return (
      <OpenCell
        field={field}
        value={value}
        where={`Row ${fid + 1}, ${field.name}`}
        onClose={(next) => acts.close(row, fid, column, next)}
        onKeep={(typed) => acts.keep(fid, field.name, value, typed)}
      />
    )
  const left = leftOf(column, frozen)
  const classes = [
    isNumeric(field) && 'number',
    inRange && 'within',
    isHead && 'head',
    left !== undefined && 'frozen',
    column === frozen - 1 && 'last',
  ]
  return (
    <div
      role="gridcell"
      className={classes.filter(Boolean).join(' ') || undefined}
      data-selected={inRange || isHead || undefined}
      onDoubleClick={() => acts.open(fid, column)}
      onMouseDown={(e) => e.button === 0 && acts.select(row, column, e.shiftKey)}
      onMouseEnter={(e) => e.buttons === 1 && acts.select(row, column, true)}
      style={left === undefined ? undefined : { left }}
    >
      {shown(value)}
    </div>
  )
})

interface OpenProps {
  field: Dataset['fields'][number]
  value: Value
  /** Which cell it is, for those who hear it. */
  where: string
  onClose: (next: Next) => void
  onKeep: (value: string | null) => Promise<void>
}

function OpenCell({ field, value, where, onClose, onKeep }: OpenProps) {
  const before = cellText(value)
  const [draft, setDraft] = useState(before)
  const [trouble, setTrouble] = useState<string | null>(null)
  const keep = async (next: Next) => {
    if (draft === before) return onClose(next)
    try {
      await onKeep(draft.trim() === '' ? null : draft)
      onClose(next)
    } catch (error) {
      setTrouble((error as Error).message)
    }
  }
  return (
    <div role="gridcell" className="open">
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
    </div>
  )
}

const NUMBER = new Intl.NumberFormat('en', { maximumFractionDigits: 6 })

function shown(value: Value): string {
  return typeof value === 'number' ? NUMBER.format(value) : cellText(value)
}
