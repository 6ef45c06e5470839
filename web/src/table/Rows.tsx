import { useEffect, useRef, useState } from 'react'
import { useVirtualizer } from '@tanstack/react-virtual'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { useLitOf } from '../sheet/lit'
import { useChosenIn, useSheet } from '../sheet/store'
import { attach, dragsFiles, droppedPictures } from './attaching'
import { Cell } from './Cell'
import { Head, type Sort } from './Head'
import { usePosition, useRows } from './queries'
import { useEdit } from './useTable'

const ROW = 23
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
  const step = (by: number) => {
    const at = items.find((item) => rowAt(item.index)?.[0] === chosen)
    const fid = at && rowAt(at.index + by)?.[0]
    if (typeof fid !== 'number' || !at) return
    choose(fid)
    virtual.scrollToIndex(at.index + by)
  }
  const width = FIRST + COLUMN * dataset.fields.length
  return (
    <Box
      ref={scroller}
      role="grid"
      aria-label={`Rows of ${dataset.title}`}
      aria-rowcount={total}
      tabIndex={0}
      onKeyDown={(e) => {
        if (chosen === null || e.target instanceof HTMLInputElement) return
        if (e.key === 'ArrowDown' || e.key === 'ArrowUp') step(e.key === 'ArrowDown' ? 1 : -1)
        else if (e.key === 'F2' || e.key === 'Enter') setOpen({ fid: chosen, field: 0 })
        else return
        e.preventDefault()
      }}
      sx={{ flex: 1, overflow: 'auto', fontSize: 12.5, position: 'relative' }}
    >
      <Box sx={{ height: virtual.getTotalSize(), width, position: 'relative' }}>
        <Head dataset={dataset} sort={sort} onSort={setSort} />
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
              onDragOver={(e) => dragsFiles(e.dataTransfer) && e.preventDefault()}
              onDrop={(e) => {
                e.preventDefault()
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
              <Box role="rowheader" sx={{ width: FIRST, px: 1, color: 'text.secondary', textAlign: 'right' }}>
                {fid === undefined ? '' : fid + 1}
              </Box>
              {row &&
                fid !== undefined &&
                dataset.fields.map((field, i) => (
                  <Cell
                    key={field.name}
                    field={field}
                    value={row[i + 1] as never}
                    where={`Row ${fid + 1}, ${field.name}`}
                    open={open?.fid === fid && open.field === i}
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
                      } else setOpen({ fid, field: (i + next + dataset.fields.length) % dataset.fields.length })
                    }}
                    onKeep={async (value) => {
                      await edit.mutateAsync([
                        { do: 'set-cell', fid, field: field.name, value, was: (row[i + 1] ?? null) as never },
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
