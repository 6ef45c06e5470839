import type { ReactNode } from 'react'
import { DndContext, type DragEndEvent, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core'
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable'

interface Props {
  ids: readonly string[]
  /** One was dropped where another stands. */
  onMove: (moved: string, onto: string) => void
  children: ReactNode
}

/** Lines under one another that are put in order by dragging or by keys; each calls `useSortable` with its id. */
export function SortableList({ ids, onMove, children }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  )
  const dropped = ({ active, over }: DragEndEvent) => {
    if (over && active.id !== over.id) onMove(String(active.id), String(over.id))
  }
  return (
    <DndContext sensors={sensors} onDragEnd={dropped}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  )
}

/** A list in which one thing has been put where another stood. */
export function movedTo<T>(all: readonly T[], moved: T, onto: T): T[] {
  const [from, to] = [all.indexOf(moved), all.indexOf(onto)]
  return from < 0 || to < 0 ? [...all] : all.toSpliced(from, 1).toSpliced(to, 0, moved)
}
