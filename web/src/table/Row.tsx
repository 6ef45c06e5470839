import { memo } from 'react'
import type { Dataset } from '../api/types'
import { attach, dragsFiles, droppedPictures } from './attaching'
import { Cell, type Next, type Value } from './Cell'
import type { Column } from './columns'
import { holds, isOne, type Range } from './ranges'
import { COLUMN, FIRST, ROW } from './sizes'

export const DRAGGED = 'text/row'

/** What is done to a row. */
export interface Acts {
  choose: (fid: number) => void
  select: (row: number, column: number, extend: boolean) => void
  open: (fid: number, column: number) => void
  close: (row: number, fid: number, column: number, next: Next) => void
  keep: (fid: number, field: string, was: Value, value: string | null) => Promise<void>
  /** Put a row before another. */
  reorder: (fid: number, before: number) => void
}

interface Props {
  dataset: Dataset
  /** Its place in the table as sorted, and px from the top. */
  index: number
  start: number
  values: unknown[] | undefined
  columns: readonly Column[]
  frozen: number
  chosen: boolean
  marked: boolean
  lit: boolean
  /** What is selected, where some of it is in this row. */
  range: Range | null
  openAt: number | null
  movable: boolean
  acts: Acts
}

/** One row of a table. It is drawn again only where something of its own is different, so that many scroll by. */
export const Row = memo(function Row(props: Props) {
  const { dataset, index, start, values, columns, frozen, chosen, range, openAt, movable, acts } = props
  const fid = values?.[0] as number | undefined
  return (
    <div
      role="row"
      aria-selected={chosen}
      className={`row${props.marked ? ' marked' : ''}${props.lit ? ' lit' : ''}${openAt !== null ? ' open' : ''}`}
      onClick={() => fid !== undefined && acts.choose(fid)}
      onDragOver={(e) => (dragsFiles(e.dataTransfer) || e.dataTransfer.types.includes(DRAGGED)) && e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault()
        if (fid === undefined) return
        const moved = e.dataTransfer.getData(DRAGGED)
        if (moved) return acts.reorder(Number(moved), fid)
        const files = droppedPictures(e.dataTransfer)
        if (files.length === 0) return
        acts.choose(fid)
        void attach(dataset.id, files, { fid })
      }}
      style={{ width: FIRST + COLUMN * columns.length, height: ROW, transform: `translateY(${start}px)` }}
    >
      <div
        role="rowheader"
        className={frozen > 0 ? 'frozen' : undefined}
        draggable={movable && fid !== undefined}
        title={movable ? 'Drag to another place, or Alt with an arrow' : undefined}
        onDragStart={(e) => e.dataTransfer.setData(DRAGGED, String(fid))}
        style={frozen > 0 ? { left: 0 } : undefined}
      >
        {fid === undefined ? '' : fid + 1}
      </div>
      {values &&
        fid !== undefined &&
        columns.map(({ field, at }, i) => (
          <Cell
            key={field.name}
            field={field}
            value={values[at + 1] as Value}
            row={index}
            fid={fid}
            column={i}
            open={openAt === i}
            inRange={range !== null && !isOne(range) && holds(range, index, i)}
            isHead={range !== null && range.toRow === index && range.toColumn === i}
            frozen={frozen}
            acts={acts}
          />
        ))}
    </div>
  )
})
