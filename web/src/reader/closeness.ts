import type { Columns } from './columns'

/** Px by which a feature that was looked for stands off its nearest neighbour, so that readers see which one it is. */
const APART = 60

/** Units of the map from a feature to the nearest other of its layer that lies elsewhere; Infinity where none does. */
export function roomAround({ x, y, n }: Pick<Columns, 'x' | 'y' | 'n'>, row: number): number {
  const [px, py] = [x[row] ?? NaN, y[row] ?? NaN]
  let nearest = Infinity
  for (let i = 0; i < n; i++) {
    const away = Math.hypot((x[i] as number) - px, (y[i] as number) - py)
    if (away > 0 && away < nearest) nearest = away
  }
  return nearest
}

/** The resolution at which it can be told from its neighbours: the one that is seen, or a closer one, as far as the map goes. */
export function resolutionFor(room: number, seen: number, closest: number): number {
  return Math.min(seen, Math.max(closest, room / APART))
}
