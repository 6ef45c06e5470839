import { type ClipboardEvent, useState } from 'react'
import { answered, client } from '../api/client'
import * as limits from '../api/generated/limits'
import type { Dataset, Edit } from '../api/types'
import type { Value } from './Cell'
import type { Column } from './columns'
import { asCells, asText, bottom, left, placed, type Range, right, top } from './ranges'
import { useEdit } from './useTable'

/** Rows that are asked for at a time. */
const PAGE = 500

interface Shown {
  sort: string
  descending: boolean
  where: string
  others: string
}

/** Copying, pasting and clearing the cells that are selected, as spreadsheets do; a paste is one step of the table's history. */
export function useClipboard(
  dataset: Dataset,
  columns: readonly Column[],
  range: Range | null,
  total: number,
  rowAt: (at: number) => unknown[] | undefined,
  shown: Shown,
) {
  const edit = useEdit(dataset.id)
  const [said, setSaid] = useState<string | null>(null)

  async function rowsOf(first: number, last: number): Promise<unknown[][]> {
    const rows = Array.from({ length: last - first + 1 }, (_, i) => rowAt(first + i))
    if (rows.every((row) => row !== undefined)) return rows
    const got: unknown[][] = []
    for (let offset = first; offset <= last; offset += PAGE) {
      const query = { ...shown, offset, limit: Math.min(PAGE, last - offset + 1) }
      const path = { dataset_id: dataset.id }
      got.push(...(await answered(client.GET('/api/datasets/{dataset_id}/rows', { params: { path, query } }))).rows)
    }
    return got
  }

  const cellsOf = (asked: Range, rows: unknown[][]) =>
    rows.map((row) => columns.slice(left(asked), right(asked) + 1).map(({ at }) => (row[at + 1] ?? null) as Value))

  function copy(event: ClipboardEvent) {
    if (!range || event.target instanceof HTMLInputElement) return
    event.preventDefault()
    const [first, last] = [top(range), bottom(range)]
    if ((last - first + 1) * (right(range) - left(range) + 1) > limits.EditsIn.edits.most)
      return setSaid(`At most ${limits.EditsIn.edits.most.toLocaleString('en')} cells are copied at once.`)
    const rows = Array.from({ length: last - first + 1 }, (_, i) => rowAt(first + i))
    if (rows.every((row) => row !== undefined)) event.clipboardData.setData('text/plain', asText(cellsOf(range, rows)))
    else
      void rowsOf(first, last)
        .then((got) => navigator.clipboard.writeText(asText(cellsOf(range, got))))
        .catch((error: Error) => setSaid(error.message))
    setSaid(null)
  }

  async function put(cells: { row: number; column: number; text: string }[]) {
    const inside = cells.filter(({ row, column }) => row < total && column < columns.length)
    if (inside.length === 0) return
    if (inside.length > limits.EditsIn.edits.most)
      return setSaid(`At most ${limits.EditsIn.edits.most.toLocaleString('en')} cells are changed at once.`)
    const numbers = inside.map(({ row }) => row)
    const first = Math.min(...numbers)
    try {
      const rows = await rowsOf(first, Math.max(...numbers))
      const edits = inside.flatMap(({ row, column, text }): Edit[] => {
        const [held, at] = [rows[row - first], columns[column]]
        if (!held || !at) return []
        const was = (held[at.at + 1] ?? null) as Value
        const value = text.trim() === '' ? null : text
        if (String(was ?? '') === (value ?? '')) return []
        return [{ do: 'set-cell', fid: Number(held[0]), field: at.field.name, value, was: was as never }]
      })
      if (edits.length > 0) await edit.mutateAsync(edits)
      const left = cells.length - inside.length
      setSaid(left > 0 ? `${left.toLocaleString('en')} cells beyond the last row or column were left out.` : null)
    } catch (error) {
      setSaid((error as Error).message)
    }
  }

  function paste(event: ClipboardEvent) {
    if (!range || event.target instanceof HTMLInputElement) return
    event.preventDefault()
    void put(placed(range, asCells(event.clipboardData.getData('text/plain'))))
  }

  return { copy, paste, clear: () => range && void put(placed(range, [['']])), said }
}
