/** The quarter of a zoom level at or below `zoom`. Labels are placed there: they only move apart on the way up to the next. */
export function quarterBelow(zoom: number): number {
  return Math.floor(zoom * 4 + 1e-6) / 4
}
