import type { KeyboardEvent } from 'react'

/** Answers the keys of a list of tabs: shows the tab that the key leads to, and moves the focus onto it (by its id). */
export function moveAlong<T extends string>(
  e: KeyboardEvent,
  tabs: readonly T[],
  shown: T,
  show: (tab: T) => void,
  id: (tab: T) => string,
) {
  const next = tabs[tabFor(e.key, tabs.indexOf(shown), tabs.length) ?? -1]
  if (next === undefined) return
  e.preventDefault()
  show(next)
  document.getElementById(id(next))?.focus()
}

/** Which tab a key leads to from the tab `at` of `n`: arrows to the neighbours and round, Home and End to the ends; else null. */
function tabFor(key: string, at: number, n: number): number | null {
  if (key === 'ArrowRight' || key === 'ArrowDown') return (at + 1) % n
  if (key === 'ArrowLeft' || key === 'ArrowUp') return (at + n - 1) % n
  if (key === 'Home') return 0
  return key === 'End' ? n - 1 : null
}
