import Projection from 'ol/proj/Projection'
import { fromLonLat, get, toLonLat } from 'ol/proj'
import TileGrid from 'ol/tilegrid/TileGrid'
import type View from 'ol/View'
import { type Extent, getHeight, getWidth } from 'ol/extent'
import type { FrameFigures } from '../api/types'
import { mapExtent, shown } from './extent'

/** Where a map lies, as the map on screen needs it. */
export interface Frame {
  projection: Projection
  /** The ground of all tiles of a level. */
  extent: Extent
  /** Units to a px at a level, tiles of level 0 being 256 px wide. */
  resolution: (level: number) => number
  level: (resolution: number) => number
  /** The denominator of the scale at so many units to a px, along the projection's true lines, at 0.28 mm to a px; and back. */
  scale: (resolution: number) => number
  resolutionAt: (scale: number) => number
  grid: (tileSize: number, levels: { from?: number; to: number }) => TileGrid
  /** Whether the world goes on beyond its edges. */
  round: boolean
  /** Metres on the ground to a unit at the middle of the map; kept up to date by whoever moves it. */
  metres: number
  /** Where north is at the middle of the map, in degrees from up, clockwise; null where there is none. Kept up to date like it. */
  north: number | null
}

/** As the server says it, so that nothing has to be asked for the web's own projection. */
export const WEB_MERCATOR_FIGURES: FrameFigures = {
  name: 'EPSG:3857 · WGS 84 / Pseudo-Mercator',
  matrix_set: 'WebMercatorQuad',
  left: -20037508.342789244,
  top: 20037508.342789244,
  side: 40075016.68557849,
  columns: 1,
  rows: 1,
  metres: 1,
  degrees: false,
  round: true,
  equal_area: false,
}

const TILE = 256
/** Metres along the side of a px as the OGC counts scales. */
const PIXEL = 0.00028

export function frameFrom(figures: FrameFigures): Frame {
  const extent = [
    figures.left,
    figures.top - figures.rows * figures.side,
    figures.left + figures.columns * figures.side,
    figures.top,
  ]
  const resolution = (level: number) => figures.side / TILE / 2 ** level
  const frame: Frame = {
    projection: get('EPSG:3857') as Projection,
    extent,
    resolution,
    level: (units) => Math.log2(figures.side / TILE / units),
    scale: (units) => (units * figures.metres) / PIXEL,
    resolutionAt: (scale) => (scale * PIXEL) / figures.metres,
    grid: (tileSize, { from = 0, to }) =>
      new TileGrid({
        origin: [figures.left, figures.top],
        extent,
        tileSize,
        minZoom: from,
        resolutions: Array.from({ length: to + 1 }, (_, level) => figures.side / tileSize / 2 ** level),
      }),
    round: figures.round,
    metres: figures.metres,
    north: 0,
  }
  if (!figures.round)
    frame.projection = new Projection({
      code: `sheet:${figures.matrix_set}`,
      units: 'm',
      extent,
      // For the scale bar: how long a px is on the ground where the map is being looked at.
      getPointResolution: (units) => units * frame.metres,
    })
  return frame
}

export const MERCATOR = frameFrom(WEB_MERCATOR_FIGURES)

/** Units to a px below which tiles of a level, 512 px wide, are the nearest to what is shown. */
export function shownBelow(level: number, frame: Frame): number {
  return 1.5 * frame.resolution(level + 1)
}

/** The level at which a view is seen; 0 before it is. */
export function levelOf(view: View, frame: Frame): number {
  const resolution = view.getResolution()
  return resolution ? frame.level(resolution) : 0
}

/** What a view needs to lie in a frame: closer than level 20 there is nothing to see, further than the whole world neither. */
export function viewOptions(frame: Frame, closest = 20) {
  return {
    projection: frame.projection,
    maxResolution: Math.max(getWidth(frame.extent), getHeight(frame.extent)) / TILE,
    minResolution: frame.resolution(closest),
    // North is up in every tile that is published.
    enableRotation: false,
    // The whole world is seen in a window of any shape.
    showFullExtent: true,
    ...(frame.round ? {} : { extent: frame.extent, constrainOnlyCenter: true }),
  }
}

/** Places and boxes between degrees and a frame. Web Mercator's are computed here, all others are asked for. */
export interface Places {
  to: (lon: number, lat: number) => Promise<[number, number] | null>
  from: (x: number, y: number) => Promise<{ lon: number; lat: number; metres: number; north: number | null } | null>
  box: (degrees: readonly number[]) => Promise<Extent | null>
}

export const MERCATOR_PLACES: Places = {
  to: (lon, lat) => Promise.resolve(fromLonLat([lon, shown(lat)]) as [number, number]),
  from: (x, y) => {
    const [lon = 0, lat = 0] = toLonLat([x, y])
    return Promise.resolve({ lon, lat, metres: Math.cos((lat * Math.PI) / 180), north: 0 })
  },
  box: (degrees) => Promise.resolve(mapExtent(degrees)),
}
