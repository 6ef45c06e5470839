import { toLonLat, fromLonLat } from 'ol/proj'
import type { EditionPage } from '../api/types'
import type { Frame } from '../painter/frame'

type Place = [number, number]

/** From the map's units to degrees and back, wherever the page knows them. */
export interface Ground {
  lonlat: (place: readonly number[]) => Place | null
  place: (lonlat: readonly number[]) => Place | null
}

/** By the projection itself on the web's own, else between places around the map whose degrees came with the edition. */
export function groundOf({ reader }: EditionPage, frame: Frame): Ground | null {
  if (frame.round)
    return {
      lonlat: (place) => toLonLat([...place]) as Place,
      place: (lonlat) => fromLonLat([...lonlat]) as Place,
    }
  return reader?.places && reader.places_box ? between(reader.places as (number | null)[][], reader.places_box) : null
}

/** Degrees between the places of a table over a box, (n × n) from its upper left, row by row. */
export function between(places: readonly (readonly (number | null)[])[], box: readonly number[]): Ground {
  const n = Math.round(Math.sqrt(places.length))
  const [west = 0, south = 0, east = 1, north = 1] = box
  const knot = (column: number, row: number): Place | null => {
    const [lon, lat] = places[row * n + column] ?? []
    return lon == null || lat == null ? null : [lon, lat]
  }
  const lonlat = ([x = 0, y = 0]: readonly number[]): Place | null => {
    const u = ((x - west) / (east - west)) * (n - 1)
    const v = ((north - y) / (north - south)) * (n - 1)
    // A little beyond the box the outermost cells go on.
    if (u < -n / 4 || v < -n / 4 || u > 1.25 * n || v > 1.25 * n) return null
    const i = Math.min(n - 2, Math.max(0, Math.floor(u)))
    const j = Math.min(n - 2, Math.max(0, Math.floor(v)))
    const corners = [knot(i, j), knot(i + 1, j), knot(i, j + 1), knot(i + 1, j + 1)]
    if (corners.some((corner) => corner === null)) return null
    const [a, b, c, d] = corners as [Place, Place, Place, Place]
    const [s, t] = [u - i, v - j]
    const mixed = (of: (place: Place) => number) =>
      (1 - t) * ((1 - s) * of(a) + s * of(b)) + t * ((1 - s) * of(c) + s * of(d))
    // Across the 180th meridian degrees jump, and places do not.
    const lon = mixed((place) => a[0] + turned(place[0] - a[0]))
    return [turned(lon), mixed((place) => place[1])]
  }
  const place = ([lon = 0, lat = 0]: readonly number[]): Place | null => {
    let [x, y] = [(west + east) / 2, (south + north) / 2]
    const step = Math.max(east - west, north - south) / (n - 1) / 16
    for (let turn = 0; turn < 20; turn++) {
      const here = lonlat([x, y])
      const beside = lonlat([x + step, y])
      const above = lonlat([x, y + step])
      if (!here || !beside || !above) return null
      const [e, f] = [turned(lon - here[0]), lat - here[1]]
      if (Math.hypot(e, f) < 1e-9) return [x, y]
      const [xx, xy, yx, yy] = [
        turned(beside[0] - here[0]) / step,
        turned(above[0] - here[0]) / step,
        (beside[1] - here[1]) / step,
        (above[1] - here[1]) / step,
      ]
      const det = xx * yy - xy * yx
      if (!det) return null
      x += (e * yy - f * xy) / det
      y += (f * xx - e * yx) / det
    }
    return [x, y]
  }
  return { lonlat, place }
}

/** Degrees of longitude within half a turn. */
const turned = (degrees: number) => ((((degrees + 180) % 360) + 360) % 360) - 180
