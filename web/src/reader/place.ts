/** Where a page opens: a level, and a place in degrees or in the map's own units. */
export type Start = { zoom: number; lat: number; lon: number } | { zoom: number; x: number; y: number }

const NUMBER = String.raw`(-?\d+(?:\.\d+)?)`
const DEGREES = new RegExp(`^#${NUMBER}/${NUMBER}/${NUMBER}$`)
const UNITS = new RegExp(`^#${NUMBER}@${NUMBER},${NUMBER}$`)

/** A start view out of an address: #zoom/lat/lon or #zoom@x,y. Null for anything else.
 *
 *  placeFrom('#9.5/52.01/-26.9') → { zoom: 9.5, lat: 52.01, lon: -26.9 }
 */
export function placeFrom(address: string): Start | null {
  const [hash = ''] = address.split('?')
  const [zoom = -1, lat = 99, lon = 999] = numbersOf(DEGREES, hash)
  if (zoom >= 0 && zoom <= 24 && Math.abs(lat) <= 85 && Math.abs(lon) <= 180) return { zoom, lat, lon }
  const [level = -1, x, y] = numbersOf(UNITS, hash)
  return level >= 0 && level <= 24 && x !== undefined && y !== undefined ? { zoom: level, x, y } : null
}

function numbersOf(pattern: RegExp, text: string): number[] {
  return (pattern.exec(text) ?? []).slice(1).map(Number)
}
