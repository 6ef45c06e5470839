import { cellText } from './cellText'
import type { Value } from './Cell'

/** Cells from where a selection began to where it has come: places of rows and of columns that are shown. */
export interface Range {
  row: number
  column: number
  toRow: number
  toColumn: number
}

export const top = (range: Range) => Math.min(range.row, range.toRow)
export const bottom = (range: Range) => Math.max(range.row, range.toRow)
export const left = (range: Range) => Math.min(range.column, range.toColumn)
export const right = (range: Range) => Math.max(range.column, range.toColumn)

export const holds = (range: Range | null, row: number, column: number) =>
  range !== null && row >= top(range) && row <= bottom(range) && column >= left(range) && column <= right(range)

export const isOne = (range: Range) => range.row === range.toRow && range.column === range.toColumn

/** What other programs understand as a block of cells: tabs between cells, lines between rows, quotes around what has either in it. */
export function asText(rows: readonly (readonly Value[])[]): string {
  return rows.map((row) => row.map(written).join('\t')).join('\n')
}

function written(value: Value): string {
  const text = cellText(value)
  return /[\t\n"]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
}

/** A block of cells as other programs put it on the clipboard. */
export function asCells(text: string): string[][] {
  const rows: string[][] = [[]]
  let cell = ''
  let quoted = false
  for (let i = 0; i < text.length; i++) {
    const sign = text[i] ?? ''
    if (quoted) {
      if (sign !== '"') cell += sign
      else if (text[i + 1] === '"') cell += text[++i]
      else quoted = false
    } else if (sign === '"' && cell === '') quoted = true
    else if (sign === '\t' || sign === '\n') {
      rows.at(-1)?.push(cell)
      cell = ''
      if (sign === '\n') rows.push([])
    } else if (sign !== '\r') cell += sign
  }
  rows.at(-1)?.push(cell)
  // The line that ends a block is no row of its own.
  return rows.at(-1)?.length === 1 && cell === '' && rows.length > 1 ? rows.slice(0, -1) : rows
}

/** Which value goes into which cell where a block is put at a selection: one value fills all of it, a block begins at its corner. */
export function placed(range: Range, cells: string[][]): { row: number; column: number; text: string }[] {
  const [first] = cells
  const single = cells.length === 1 && first?.length === 1
  const out = []
  if (single)
    for (let row = top(range); row <= bottom(range); row++)
      for (let column = left(range); column <= right(range); column++) out.push({ row, column, text: first[0] ?? '' })
  else
    for (const [i, line] of cells.entries())
      for (const [j, text] of line.entries()) out.push({ row: top(range) + i, column: left(range) + j, text })
  return out
}
