import { transformExtent } from 'ol/proj'

/** The northernmost latitude that the map can show: a square world ends there (OGC 17-083r4, WebMercatorQuad). */
const NORTHERNMOST = 85.051128

/** A latitude that the map can show: the pole itself is endlessly far off. */
export function shown(latitude: number): number {
  return Math.max(-NORTHERNMOST, Math.min(NORTHERNMOST, latitude))
}

/** A box in degrees (west, south, east, north) as an extent of the map, cut where the map ends. */
export function mapExtent([west = -180, south = -90, east = 180, north = 90]: readonly number[]): number[] {
  return transformExtent([west, shown(south), east, shown(north)], 'EPSG:4326', 'EPSG:3857')
}
