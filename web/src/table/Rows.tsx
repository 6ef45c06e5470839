import { useEffect, useRef, useState } from 'react'
import { useVirtualizer } from '@tanstack/react-virtual'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { useLitOf } from '../sheet/lit'
import { useChosenIn, useSheet } from '../sheet/store'
import { attach, dragsFiles, droppedPictures } from './attaching'
import { Cell } from './Cell'
import { useClipboard } from './clipboard'
import { useColumns } from './columns'
import { frozenAt, Head, type Sort } from './Head'
import { usePosition, useRows } from './queries'
import { holds, isOne, type Range } from './ranges'
import { useEdit, useReorder } from './useTable'

const ROW = 23
const DRAGGED = 'text/row'
/** Rows down and columns along that keys go. */
const WAYS: Record<string, [number, number] | undefined> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
}
/** What a row has at its beginning while its feature is lit on the map. */
const LIT = 'inset 3px 0 0 #8a6514'
export const COLUMN = 132
export const FIRST = 56
/** The heads of the columns: a name over a glimpse of the values. */
export const HEAD = 42

/** The rows themselves. Only what is in view is fetched and laid out, so that a million rows scroll. */
export function Rows({ dataset, where, others }: { dataset: Dataset; where: string; others: Record<string, string> }) {
  const scroller = useRef<HTMLDivElement>(null)
  const { fid: chosen, also } = useChosenIn(dataset.id)
  const [sort, setSort] = useState<Sort | null>(null)
  const layout = useColumns(dataset)
  const { columns, frozen } = layout
  const [selected, setRange] = useState<Range | null>(null)
  const [open, setOpen] = useState<{ fid: number; field: number } | null>(null)
  const [total, setTotal] = useState(dataset.rows)
  const lit = useLitOf(dataset.id)
  const clickedHere = useRef<number | null>(null)
  const edit = useEdit(dataset.id)
  const virtual = useVirtualizer({
    count: total,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    paddingStart: HEAD,
  })
  const items = virtual.getVirtualItems()
  const known = useRows(dataset, { sort, where, others }, items.length ? items.map((item) => item.index) : [0])
  const { rowAt } = known
  useEffect(() => setTotal(known.total ?? dataset.rows), [known.total, dataset.rows])
  const to = usePosition(dataset, { sort, where, others }, clickedHere.current === chosen ? null : chosen)
  useEffect(() => {
    if (to !== undefined && to >= 0) virtual.scrollToIndex(to, { align: 'center' })
  }, [to, virtual])

  const choose = (fid: number) => {
    clickedHere.current = fid
    useSheet.getState().chooseRows(dataset.id, [fid])
  }
  // A row that was chosen elsewhere, on the map say, takes the place of one cell that was selected here.
  const range = selected && (!isOne(selected) || rowAt(selected.toRow)?.[0] === chosen) ? selected : null
  // Sorted by whole numbers upwards, rows stand in an order that can be made another by hand.
  const movable =
    sort !== null &&
    !sort.descending &&
    dataset.may.includes('change') &&
    dataset.fields.some(({ name, type }) => name === sort.field && type === 'integer')
  const reorder = useReorder(dataset.id, sort?.field ?? '')
  const at = items.find((item) => rowAt(item.index)?.[0] === chosen)?.index
  const move = (down: number, along: number, extend: boolean) => {
    const from = range ?? { row: at ?? 0, column: 0, toRow: at ?? 0, toColumn: 0 }
    const toRow = Math.min(Math.max(from.toRow + (range || along ? down : at === undefined ? 0 : down), 0), total - 1)
    const toColumn = Math.min(Math.max(from.toColumn + along, 0), columns.length - 1)
    setRange(extend ? { ...from, toRow, toColumn } : { row: toRow, column: toColumn, toRow, toColumn })
    const fid = rowAt(toRow)?.[0]
    if (typeof fid === 'number' && !extend) choose(fid)
    virtual.scrollToIndex(toRow)
  }
  const select = (row: number, column: number, extend: boolean) =>
    setRange((was) =>
      extend && was ? { ...was, toRow: row, toColumn: column } : { row, column, toRow: row, toColumn: column },
    )
  const { copy, paste, clear, said } = useClipboard(dataset, columns, range, total, rowAt, {
    sort: sort?.field ?? '',
    descending: sort?.descending ?? false,
    where,
    others: Object.keys(others).length ? JSON.stringify(others) : '',
  })
  const width = FIRST + COLUMN * columns.length
  return (
    <Box
      ref={scroller}
      role="grid"
      aria-label={`Rows of ${dataset.title}`}
      aria-rowcount={total}
      tabIndex={0}
      onCopy={copy}
      onPaste={paste}
      onKeyDown={(e) => {
        if (e.target instanceof HTMLInputElement || e.ctrlKey || e.metaKey) return
        const way = WAYS[e.key]
        if (e.altKey) {
          if (!movable || !way?.[0] || at === undefined || chosen === null) return
          const before = rowAt(way[0] > 0 ? at + 2 : at - 1)?.[0]
          if (way[0] > 0 || at > 0) reorder.mutate({ move: chosen, before: typeof before === 'number' ? before : null })
          e.preventDefault()
          return e.stopPropagation()
        }
        if (way && (chosen !== null || range)) move(way[0], way[1], e.shiftKey)
        else if ((e.key === 'F2' || e.key === 'Enter') && chosen !== null)
          setOpen({ fid: chosen, field: range?.toColumn ?? 0 })
        else if (e.key === 'Delete' && range) clear()
        else return
        e.preventDefault()
      }}
      sx={{ flex: 1, overflow: 'auto', fontSize: 12.5, position: 'relative' }}
    >
      <Box sx={{ height: virtual.getTotalSize(), width, position: 'relative' }}>
        <Head dataset={dataset} layout={layout} sort={sort} onSort={setSort} />
        {(said ?? reorder.error?.message) && (
          <Typography
            role="alert"
            variant="body2"
            sx={{ position: 'sticky', left: 8, top: HEAD, width: 'fit-content', bgcolor: 'raised', px: 1, zIndex: 3 }}
          >
            {said ?? reorder.error?.message}
          </Typography>
        )}
        {total === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ position: 'sticky', left: 0, p: 2 }}>
            No row is so. Press “All rows” to see them again.
          </Typography>
        )}
        {items.map((item) => {
          const row = rowAt(item.index)
          const fid = row?.[0] as number | undefined
          return (
            <Box
              key={item.key}
              role="row"
              aria-selected={fid !== undefined && fid === chosen}
              onClick={() => fid !== undefined && choose(fid)}
              onDragOver={(e) =>
                (dragsFiles(e.dataTransfer) || e.dataTransfer.types.includes(DRAGGED)) && e.preventDefault()
              }
              onDrop={(e) => {
                e.preventDefault()
                const moved = e.dataTransfer.getData(DRAGGED)
                if (moved && fid !== undefined) return reorder.mutate({ move: Number(moved), before: fid })
                const files = droppedPictures(e.dataTransfer)
                if (fid === undefined || files.length === 0) return
                choose(fid)
                void attach(dataset.id, files, { fid })
              }}
              sx={{
                position: 'absolute',
                top: 0,
                left: 0,
                width,
                height: ROW,
                transform: `translateY(${item.start}px)`,
                display: 'flex',
                alignItems: 'center',
                cursor: 'pointer',
                // What is said below an open cell lies over the rows that follow.
                zIndex: open?.fid === fid ? 1 : 'auto',
                borderBottom: 1,
                borderColor: 'line',
                bgcolor:
                  fid !== undefined && (fid === chosen || also.includes(fid) || lit.has(fid)) ? 'tint' : 'transparent',
                boxShadow: fid !== undefined && lit.has(fid) ? LIT : 'none',
                '&:hover': { bgcolor: 'tint' },
              }}
            >
              <Box
                role="rowheader"
                draggable={movable && fid !== undefined}
                title={movable ? 'Drag to another place, or Alt with an arrow' : undefined}
                onDragStart={(e) => e.dataTransfer.setData(DRAGGED, String(fid))}
                sx={{
                  width: FIRST,
                  px: 1,
                  color: 'text.secondary',
                  textAlign: 'right',
                  ...(frozen > 0 && { position: 'sticky', left: 0, bgcolor: 'background.paper', zIndex: 1 }),
                }}
              >
                {fid === undefined ? '' : fid + 1}
              </Box>
              {row &&
                fid !== undefined &&
                columns.map(({ field, at: place }, i) => (
                  <Cell
                    key={field.name}
                    field={field}
                    value={row[place + 1] as never}
                    where={`Row ${fid + 1}, ${field.name}`}
                    open={open?.fid === fid && open.field === i}
                    inRange={range !== null && !isOne(range) && holds(range, item.index, i)}
                    isHead={range !== null && range.toRow === item.index && range.toColumn === i}
                    frozen={frozenAt(i, frozen)}
                    onSelect={(extend) => select(item.index, i, extend)}
                    onOpen={() => {
                      choose(fid)
                      setOpen({ fid, field: i })
                    }}
                    onClose={(next) => {
                      if (next === null) {
                        setOpen(null)
                        scroller.current?.focus()
                      } else if (next === 'below') {
                        const below = rowAt(item.index + 1)?.[0]
                        setOpen(typeof below === 'number' ? { fid: below, field: i } : null)
                        if (typeof below === 'number') choose(below)
                      } else setOpen({ fid, field: (i + next + columns.length) % columns.length })
                    }}
                    onKeep={async (value) => {
                      await edit.mutateAsync([
                        { do: 'set-cell', fid, field: field.name, value, was: (row[place + 1] ?? null) as never },
                      ])
                    }}
                  />
                ))}
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}
