import type { Place } from './edition'

/** A start view out of an address: #zoom/lat/lon. Null for anything else.
 *
 *  placeFrom('#9.5/52.01/-26.9') → { zoom: 9.5, lat: 52.01, lon: -26.9 }
 */
export function placeFrom(hash: string): Place | null {
  const parts = /^#(\d+(?:\.\d+)?)\/(-?\d+(?:\.\d+)?)\/(-?\d+(?:\.\d+)?)$/.exec(hash)
  if (!parts) return null
  const [zoom, lat, lon] = parts.slice(1).map(Number) as [number, number, number]
  return zoom <= 24 && Math.abs(lat) <= 85 && Math.abs(lon) <= 180 ? { zoom, lat, lon } : null
}
