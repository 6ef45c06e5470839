import geodesic from 'geographiclib-geodesic'

const { Geodesic } = geodesic
const WGS84 = Geodesic.WGS84

/** Metres between two places in degrees, on the ellipsoid (Karney, Journal of Geodesy 87, 2013). */
export function metresBetween(
  [lon1 = 0, lat1 = 0]: readonly number[],
  [lon2 = 0, lat2 = 0]: readonly number[],
): number {
  return WGS84.Inverse(lat1, lon1, lat2, lon2, Geodesic.DISTANCE).s12 ?? NaN
}

/** Metres from a place to many; NaN for those that are nowhere. */
export function metresTo(place: readonly number[], lon: Float64Array, lat: Float64Array): Float64Array {
  return Float64Array.from(lon, (each, i) => {
    const there = lat[i] ?? NaN
    return Number.isFinite(each) && Number.isFinite(there) ? metresBetween(place, [each, there]) : NaN
  })
}

/** The places in degrees at a distance from one, all the way round. */
export function circleAround([lon = 0, lat = 0]: readonly number[], metres: number, corners = 180): [number, number][] {
  return Array.from({ length: corners }, (_, i) => {
    const there = WGS84.Direct(lat, lon, (360 * i) / corners, metres)
    return [there.lon2 ?? NaN, there.lat2 ?? NaN]
  })
}

/** Metres along places in degrees, and square metres within them. */
export function measured(places: readonly (readonly number[])[]): { length: number; area: number } {
  let length = 0
  places.forEach((place, i) => {
    const before = places[i - 1]
    if (before) length += metresBetween(before, place)
  })
  const ring = WGS84.Polygon(false)
  for (const [lon = 0, lat = 0] of places) ring.AddPoint(lat, lon)
  return { length, area: places.length > 2 ? Math.abs(ring.Compute(false, true).area ?? 0) : 0 }
}
