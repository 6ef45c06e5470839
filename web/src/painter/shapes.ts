import type VectorTile from 'ol/VectorTile'
import type RenderFeature from 'ol/render/Feature'
import { douglasPeucker } from 'ol/geom/flat/simplify'

/** A feature of a tile, in pixels of the tile as it is at its own resolution, right and down from its upper left corner. */
export interface Shape {
  feature: RenderFeature
  row: number
  /** What is filled: areas only. */
  area: Path2D | null
  /** What is stroked: areas and lines. */
  outline: Path2D | null
  /** x and y of every point, one after the other; none for areas and lines. */
  places: number[]
  /** Left, top, right, bottom. */
  box: [number, number, number, number]
}

/** How far an outline may be from the true one, in pixels of the tile. Areas are filled as they are, or there would be gaps between
 * neighbours; a line is far wider than this, and costs by its vertices. */
const TOLERANCE = 0.15

const known = new WeakMap<VectorTile<RenderFeature>, Shape[]>()

/** The shapes of a loaded tile, in the order of their rows. They are made once, however often and with whatever they are drawn. */
export function shapesOf(tile: VectorTile<RenderFeature>): Shape[] {
  let shapes = known.get(tile)
  if (!shapes) {
    const [left = 0, , , top = 0] = tile.extent ?? []
    shapes = (tile.getFeatures() ?? []).map((feature) => shapeOf(feature, left, top, tile.resolution))
    known.set(tile, shapes)
  }
  return shapes
}

/** A feature as a shape, in pixels of `resolution` metres from the corner `left`, `top`. */
export function shapeOf(feature: RenderFeature, left: number, top: number, resolution: number): Shape {
  const type = feature.getType()
  const stride = feature.getStride()
  const flat = feature.getFlatCoordinates()
  const places: number[] = []
  const box: Shape['box'] = [Infinity, Infinity, -Infinity, -Infinity]
  for (let at = 0; at < flat.length; at += stride) {
    const x = ((flat[at] ?? 0) - left) / resolution
    const y = (top - (flat[at + 1] ?? 0)) / resolution
    places.push(x, y)
    if (x < box[0]) box[0] = x
    if (y < box[1]) box[1] = y
    if (x > box[2]) box[2] = x
    if (y > box[3]) box[3] = y
  }
  const row = Number(feature.getId())
  if (type.endsWith('Point')) return { feature, row, area: null, outline: null, places, box }
  const filled = type.endsWith('Polygon')
  const area = filled ? new Path2D() : null
  const outline = new Path2D()
  let from = 0
  for (const end of feature.getEnds() ?? []) {
    const to = (end / stride) * 2
    const few: number[] = []
    douglasPeucker(places, from, to, 2, TOLERANCE ** 2, few, 0)
    trace(outline, few, 0, few.length, filled)
    if (area) trace(area, places, from, to, true)
    from = to
  }
  return { feature, row, area, outline, places: [], box }
}

function trace(path: Path2D, places: number[], from: number, to: number, closed: boolean): void {
  path.moveTo(places[from] ?? 0, places[from + 1] ?? 0)
  for (let i = from + 2; i < to; i += 2) path.lineTo(places[i] ?? 0, places[i + 1] ?? 0)
  if (closed) path.closePath()
}
