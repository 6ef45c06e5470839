import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import { useVirtualizer } from '@tanstack/react-virtual'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { useLitOf } from '../sheet/lit'
import { useChosenIn, useSheet } from '../sheet/store'
import { useClipboard } from './clipboard'
import { useColumns } from './columns'
import { Head, type Sort } from './Head'
import { usePosition, useRows } from './queries'
import { bottom, isOne, type Range, top } from './ranges'
import { type Acts, Row } from './Row'
import { COLUMN, FIRST, HEAD, ROW } from './sizes'
import { useLeaps } from './useLeaps'
import { useEdit, useReorder } from './useTable'

/** Rows down and columns along that keys go. */
const WAYS: Record<string, [number, number] | undefined> = {
  ArrowDown: [1, 0],
  ArrowUp: [-1, 0],
  ArrowRight: [0, 1],
  ArrowLeft: [0, -1],
}
/** Rules for all rows and cells: a rule of its own for each would be looked up at every frame of scrolling. */
const LOOK = {
  '& .row': {
    position: 'absolute',
    top: 0,
    left: 0,
    display: 'flex',
    alignItems: 'center',
    cursor: 'pointer',
    borderBottom: 1,
    borderColor: 'line',
    '&:hover, &.marked': { bgcolor: 'tint' },
    /** What a row has at its beginning while its feature is lit on the map. */
    '&.lit': { boxShadow: 'inset 3px 0 0 #8a6514' },
    // What is said below an open cell lies over the rows that follow.
    '&.open': { zIndex: 1 },
  },
  '& .row > [role=rowheader]': {
    width: FIRST,
    height: '100%',
    lineHeight: '22px',
    px: 1,
    color: 'text.secondary',
    textAlign: 'right',
  },
  '& .row > [role=gridcell]': {
    width: COLUMN,
    height: '100%',
    lineHeight: '22px',
    px: 1,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    userSelect: 'none',
    '&.number': { textAlign: 'right' },
    '&.within': { bgcolor: 'tint' },
    '&.head': { boxShadow: 'inset 0 0 0 1px #8a6514' },
    '&.open': { overflow: 'visible', px: 0, lineHeight: 'normal', position: 'relative' },
  },
  '& .row > .frozen': { position: 'sticky', bgcolor: 'background.paper', zIndex: 1 },
  '& .row.marked > .frozen, & .row:hover > .frozen': { bgcolor: 'tint' },
  '& .row > .last': { borderRight: 1, borderColor: 'line' },
} as const

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
  // As many rows as were ever in view at once: with more of them, some would be made and thrown away at every leap.
  const [pool, setPool] = useState(1)
  if (items.length > pool) setPool(items.length)
  const passing = useLeaps(items[0]?.index ?? 0, items.length)
  const known = useRows(
    dataset,
    { sort, where, others },
    items.length ? items.map((item) => item.index) : [0],
    !passing,
  )
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
  const latest: Acts = {
    choose,
    select,
    open: (fid, column) => {
      choose(fid)
      setOpen({ fid, field: column })
    },
    close: (row, fid, column, next) => {
      if (next === null) {
        setOpen(null)
        scroller.current?.focus()
      } else if (next === 'below') {
        const below = rowAt(row + 1)?.[0]
        setOpen(typeof below === 'number' ? { fid: below, field: column } : null)
        if (typeof below === 'number') choose(below)
      } else setOpen({ fid, field: (column + next + columns.length) % columns.length })
    },
    keep: async (fid, field, was, value) => {
      await edit.mutateAsync([{ do: 'set-cell', fid, field, value, was: was ?? null }])
    },
    reorder: (move, before) => reorder.mutate({ move, before }),
  }
  const acts = useStable(latest)
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
      sx={{ flex: 1, overflow: 'auto', fontSize: 12.5, position: 'relative', ...LOOK }}
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
          const values = rowAt(item.index)
          const fid = values?.[0] as number | undefined
          const isChosen = fid !== undefined && fid === chosen
          const isLit = fid !== undefined && lit.has(fid)
          return (
            <Row
              // Rows that leave the view are those that come into it: to fill them anew is much less work than to make them.
              key={item.index % pool}
              dataset={dataset}
              index={item.index}
              start={item.start}
              values={values}
              columns={columns}
              frozen={frozen}
              chosen={isChosen}
              marked={isChosen || isLit || (fid !== undefined && also.includes(fid))}
              lit={isLit}
              range={range && item.index >= top(range) && item.index <= bottom(range) ? range : null}
              openAt={open !== null && open.fid === fid ? open.field : null}
              movable={movable}
              acts={acts}
            />
          )
        })}
      </Box>
    </Box>
  )
}

/** The same functions for as long as the table is there, each of which does what its namesake of the last drawing does. */
function useStable(latest: Acts): Acts {
  const current = useRef(latest)
  useLayoutEffect(() => {
    current.current = latest
  })
  return useMemo(
    () => ({
      choose: (...given) => current.current.choose(...given),
      select: (...given) => current.current.select(...given),
      open: (...given) => current.current.open(...given),
      close: (...given) => current.current.close(...given),
      keep: (...given) => current.current.keep(...given),
      reorder: (...given) => current.current.reorder(...given),
    }),
    [],
  )
}
