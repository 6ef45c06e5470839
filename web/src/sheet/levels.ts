/** The quarter of a zoom level at or below `zoom`. */
export function quarterBelow(zoom: number): number {
  return Math.floor(zoom * 4 + 1e-6) / 4
}

/** The whole level at or below `zoom`. Labels are placed there, as on the page that is published: on the way up to the next they only
 * move apart. */
export function levelBelow(zoom: number): number {
  return Math.floor(zoom + 1e-6)
}

/** Px of the squares that a view is rounded out to, so that not every move asks for labels anew. */
const SQUARE = 1024

/** West, south, east and north of what is seen, rounded out to squares of the level below. */
export function roundedOut(extent: readonly number[], resolution: number): number[] {
  const side = SQUARE * resolution
  return extent.map((bound, i) => (i < 2 ? Math.floor(bound / side) : Math.ceil(bound / side)) * side)
}
