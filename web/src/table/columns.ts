import { useMemo } from 'react'
import { create } from 'zustand'
import type { Dataset } from '../api/types'

interface Layout {
  /** Names in the order in which they stand; fields that it does not know come last. */
  order: string[]
  hidden: string[]
  /** How many columns at the left stay where they are while the others are scrolled. */
  frozen: number
}

/** A column that is shown: its field, and at which place of a row its values stand. */
export interface Column {
  field: Dataset['fields'][number]
  at: number
}

const KEY = 'columns'
const KEPT = 100
const PLAIN: Layout = { order: [], hidden: [], frozen: 0 }

const kept = (): Record<string, Layout> => {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? '{}') as Record<string, Layout>
  } catch {
    return {}
  }
}

/** How the columns of tables stand in this browser, by dataset. */
const useLayouts = create<{ layouts: Record<string, Layout> }>(() => ({ layouts: kept() }))

export function setLayout(dataset: string, change: Partial<Layout> | null): void {
  const { layouts } = useLayouts.getState()
  const others = Object.entries(layouts).filter(([id]) => id !== dataset)
  const next = change && { ...PLAIN, ...layouts[dataset], ...change }
  const all = Object.fromEntries(next ? [...others.slice(-KEPT), [dataset, next]] : others)
  localStorage.setItem(KEY, JSON.stringify(all))
  useLayouts.setState({ layouts: all })
}

/** The columns that are shown, in their order. */
export function columnsOf(fields: Dataset['fields'], { order, hidden }: Layout): Column[] {
  const place = new Map(order.map((name, i) => [name, i]))
  return fields
    .map((field, at) => ({ field, at }))
    .sort((a, b) => (place.get(a.field.name) ?? order.length + a.at) - (place.get(b.field.name) ?? order.length + b.at))
    .filter(({ field }) => !hidden.includes(field.name))
}

/** The columns of a table and what is done to them; the same for as long as neither its fields nor their layout change. */
export function useColumns({ id, fields }: Dataset) {
  const layout = useLayouts((s) => s.layouts[id]) ?? PLAIN
  return useMemo(() => laidOut(id, fields, layout), [id, fields, layout])
}

function laidOut(id: string, fields: Dataset['fields'], layout: Layout) {
  const columns = columnsOf(fields, layout)
  const names = fields.map(({ name }) => name)
  const all = columnsOf(fields, { ...layout, hidden: [] }).map(({ field }) => field.name)
  return {
    columns,
    frozen: Math.min(layout.frozen, columns.length),
    hidden: layout.hidden.filter((name) => names.includes(name)),
    plain: layout === PLAIN,
    hide: (name: string) =>
      columns.length > 1 && setLayout(id, { hidden: [...layout.hidden.filter((each) => each !== name), name] }),
    /** Keep this column and those before it where they are; a second time lets go of them. */
    freeze: (name: string) => {
      const upTo = columns.findIndex(({ field }) => field.name === name) + 1
      setLayout(id, { frozen: layout.frozen === upTo ? 0 : upTo })
    },
    /** Put a column before another, or at the end. */
    move: (name: string, before: string | null) => setLayout(id, { order: moved(all, name, before) }),
    /** One place to the left or to the right among those that are shown. */
    shift: (name: string, by: 1 | -1) => {
      const shown = columns.map(({ field }) => field.name)
      const at = shown.indexOf(name)
      const before = by < 0 ? shown[at - 1] : shown[at + 2]
      if (by < 0 && at === 0) return
      setLayout(id, { order: moved(all, name, before ?? null) })
    },
    reset: () => setLayout(id, null),
  }
}

/** Names with one of them before another, or last. */
export function moved(names: readonly string[], name: string, before: string | null): string[] {
  if (name === before) return [...names]
  const rest = names.filter((each) => each !== name)
  const at = before === null ? rest.length : rest.indexOf(before)
  return [...rest.slice(0, at), name, ...rest.slice(at)]
}
