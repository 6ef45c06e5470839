import TileLayer from 'ol/layer/Tile'
import XYZ from 'ol/source/XYZ'
import { mapExtent } from '../painter/extent'
import { type Frame, MERCATOR } from '../painter/frame'

interface Cut {
  /** Where the edition stands, with a slash at the end. */
  base: string
  size: number
  /** Editions of before have PNG. */
  format?: string
  min_zoom: number
  max_zoom: number
  /** West, south, east, north in degrees; without, tiles are asked for everywhere. */
  bounds?: number[]
  drawn_bounds?: number[]
}

/** The tiles of a published edition as a layer. */
export function editionTiles(
  { base, size, format = 'png', min_zoom, max_zoom, bounds, drawn_bounds }: Cut,
  frame: Frame = MERCATOR,
): TileLayer<XYZ> {
  const reach = drawn_bounds ?? (bounds && padded(bounds))
  return new TileLayer({
    className: 'edition-tiles',
    source: new XYZ({
      url: `${base}map/{z}/{x}/{y}.${format}`,
      tilePixelRatio: size / 256,
      projection: frame.projection,
      tileGrid: frame.grid(256, { from: min_zoom, to: max_zoom }),
      wrapX: frame.round,
      transition: 120,
    }),
    extent: frame.round ? reach && mapExtent(reach) : undefined,
  })
}

/** Labels and symbols may reach a little over the data's edge. */
function padded([west = -180, south = -85, east = 180, north = 85]: number[]): number[] {
  const pad = 0.1 * Math.max(east - west, north - south)
  return [Math.max(-180, west - pad), Math.max(-85, south - pad), Math.min(180, east + pad), Math.min(85, north + pad)]
}
