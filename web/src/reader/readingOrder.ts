/** Into how many lines what is in view is parted, for reading it in order. */
const LINES = 12
const MOST = 500

/** Places in px as a page is read: from the top down, lines of like height from left to right; at most the first 500. */
export function inReadingOrder<T extends { x: number; y: number }>(places: T[], height: number): T[] {
  const line = ({ y }: T) => Math.floor((y / Math.max(1, height)) * LINES)
  return places.toSorted((a, b) => line(a) - line(b) || a.x - b.x).slice(0, MOST)
}
