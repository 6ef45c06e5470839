/** Which tab a key leads to from the tab `at` of `n`: arrows to the neighbours and round, Home and End to the ends; else null. */
export function tabFor(key: string, at: number, n: number): number | null {
  if (key === 'ArrowRight' || key === 'ArrowDown') return (at + 1) % n
  if (key === 'ArrowLeft' || key === 'ArrowUp') return (at + n - 1) % n
  if (key === 'Home') return 0
  return key === 'End' ? n - 1 : null
}
