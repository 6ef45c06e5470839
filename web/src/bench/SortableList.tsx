import type { ReactNode } from 'react'
import {
  type Announcements,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
} from '@dnd-kit/core'
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
    <DndContext sensors={sensors} accessibility={{ announcements: saidOf(ids) }} onDragEnd={dropped}>
      <SortableContext items={[...ids]} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  )
}

/** What a screen reader says while a line is moved: places in the list, as lines are read by their names anyway. */
function saidOf(ids: readonly string[]): Announcements {
  const place = (id: string | number) => `place ${ids.indexOf(String(id)) + 1} of ${ids.length}`
  return {
    onDragStart: ({ active }) => `Taken up from ${place(active.id)}.`,
    onDragOver: ({ over }) => (over ? `Now at ${place(over.id)}.` : undefined),
    onDragEnd: ({ over }) => (over ? `Put down at ${place(over.id)}.` : undefined),
    onDragCancel: ({ active }) => `Back at ${place(active.id)}.`,
  }
}

/** A list in which one thing has been put where another stood. */
export function movedTo<T>(all: readonly T[], moved: T, onto: T): T[] {
  const [from, to] = [all.indexOf(moved), all.indexOf(onto)]
  return from < 0 || to < 0 ? [...all] : all.toSpliced(from, 1).toSpliced(to, 0, moved)
}
