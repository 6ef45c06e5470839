import { containsXY } from 'ol/extent'
import type { Brush } from './brush'
import { drawShape, type Piece } from './drawing'
import type { Pens } from './pens'
import type { Shape } from './shapes'

/** From so many points on they are put down as stamps: to fill a path takes a browser microseconds, and there are many. */
export const MANY = 4_000
/** Parts of a px, each way, at which a stamp can stand: a mark is no more than an eighth of a px from its place. */
const PHASES = 4
/** Of radii and angles, so that few stamps serve many marks. */
const FINE = 8
const LONGEST = 1.5
const MOST_STAMPS = 4_000

/** Points on a canvas, in the order in which they are drawn. */
export interface Points {
  n: number
  x: Float32Array
  y: Float32Array
  row: Int32Array
}

/** Gathers the points of pieces, and remembers their order for as long as they are the same. */
export class PointOrder {
  private of: Shape[][] = []
  private rank: Pens['rank'] | null = null
  private order: Uint32Array = new Uint32Array()
  private placed: number[] = []
  private last: Points | null = null

  /** The points of all pieces; null where they are few. */
  points(pieces: Piece[], pens: Pens): Points | null {
    let n = 0
    for (const { shapes } of pieces) for (const { outline, places } of shapes) if (!outline) n += places.length / 2
    if (n < MANY) return null
    const placed = pieces.flatMap(({ x, y, scale, rects }) => [x, y, scale, ...rects.flat()])
    const still = this.last && this.isOf(pieces, pens) && same(placed, this.placed)
    if (still) return this.last
    const stamped = { n: 0, x: new Float32Array(n), y: new Float32Array(n), row: new Int32Array(n) }
    const seen = new Uint8Array(n)
    for (const { shapes, x, y, scale, rects } of pieces)
      for (const { outline, places, row } of shapes) {
        if (outline) continue
        for (let i = 0; i < places.length; i += 2) {
          const [px, py] = [x + scale * (places[i] as number), y + scale * (places[i + 1] as number)]
          // Of a tile that stands in for others, only a part is seen.
          seen[stamped.n] = rects.some((rect) => containsXY(rect, Math.round(px), Math.round(py))) ? 1 : 0
          stamped.x[stamped.n] = px
          stamped.y[stamped.n] = py
          stamped.row[stamped.n++] = row
        }
      }
    this.placed = placed
    this.last = ordered(stamped, this.orderOf(pieces, stamped, pens), seen)
    return this.last
  }

  private isOf(pieces: Piece[], pens: Pens): boolean {
    const { of } = this
    return this.rank === pens.rank && of.length === pieces.length && pieces.every(({ shapes }, i) => shapes === of[i])
  }

  private orderOf(pieces: Piece[], { n, row }: Points, pens: Pens): Uint32Array {
    if (this.isOf(pieces, pens) && this.order.length === n) return this.order
    this.of = pieces.map(({ shapes }) => shapes)
    this.rank = pens.rank
    // Numbers are sorted by the browser itself: the rank first, and places among equals.
    const keys = Float64Array.from({ length: n }, (_, i) => pens.rank(row[i] as number) * n + i).sort()
    this.order = Uint32Array.from(keys, (key) => ((key % n) + n) % n)
    return this.order
  }
}

const same = (one: readonly number[], other: readonly number[]) =>
  one.length === other.length && one.every((value, i) => value === other[i])

function ordered({ n, x, y, row }: Points, order: Uint32Array, seen: Uint8Array): Points {
  const sorted = { n: 0, x: new Float32Array(n), y: new Float32Array(n), row: new Int32Array(n) }
  for (const i of order) {
    if (!seen[i]) continue
    sorted.x[sorted.n] = x[i] as number
    sorted.y[sorted.n] = y[i] as number
    sorted.row[sorted.n++] = row[i] as number
  }
  return sorted
}

interface Stamp {
  /** Px from the place's whole px to the stamp's upper left. */
  left: number
  top: number
  wide: number
  high: number
  /** Red, green, blue, opacity of each px, multiplied by the opacity. */
  inks: Uint8ClampedArray
  /** The same as one number each. */
  whole: Uint32Array
}

/** What is pressed on: its px by their four numbers, and as one number each. */
interface Paper {
  parts: Uint8Array
  wholes: Uint32Array
}

const newPaper = (px: number): Paper => {
  const parts = new Uint8Array(4 * px)
  return { parts, wholes: new Uint32Array(parts.buffer) }
}

let paper = newPaper(0)
let cast: CanvasRenderingContext2D | null = null

/** Put points down as stamps; false, with nothing drawn, where some of them are more than a shape with a fill and strokes. */
export function stampAll(
  context: CanvasRenderingContext2D,
  { n, x, y, row }: Points,
  pens: Pens,
  ratio: number,
): boolean {
  const { width, height } = context.canvas
  if (paper.wholes.length !== width * height) paper = newPaper(width * height)
  else paper.wholes.fill(0)
  const stamps = new Map<Brush, Map<number, Stamp[]>>()
  let stampCount = 0
  let [west, north, east, south] = [width, height, 0, 0]
  for (let i = 0; i < n; i++) {
    const at = row[i] as number
    const brush = pens.of(at)
    if (!brush) continue
    if (brush.icon || brush.texture || brush.sign || pens.wedges(at)) return false
    const radius = Math.round(pens.radius(at) * ratio * FINE)
    const angle = brush.outline ? Math.round(pens.angle(at)) : 0
    const key = radius * 720 + angle
    let known = stamps.get(brush)
    if (!known) stamps.set(brush, (known = new Map()))
    let phases = known.get(key)
    if (!phases) known.set(key, (phases = []))
    const [px, py] = [x[i] as number, y[i] as number]
    const [u, v] = [Math.floor(px * PHASES) & (PHASES - 1), Math.floor(py * PHASES) & (PHASES - 1)]
    let stamp = phases[u * PHASES + v]
    if (!stamp) {
      if (++stampCount > MOST_STAMPS) return false
      stamp = phases[u * PHASES + v] = cut(brush, radius / FINE, angle, [(u + 0.5) / PHASES, (v + 0.5) / PHASES], ratio)
    }
    const [left, top] = [Math.floor(px) + stamp.left, Math.floor(py) + stamp.top]
    press(paper, width, height, stamp, left, top)
    if (left < west) west = left
    if (top < north) north = top
    if (left + stamp.wide > east) east = left + stamp.wide
    if (top + stamp.high > south) south = top + stamp.high
  }
  lay(context, [west, north, east, south], width, height)
  return true
}

/** One stamp over what is there. Written out for each of the four numbers of a px: it is done millions of times. */
function press(on: Paper, width: number, height: number, stamp: Stamp, left: number, top: number): void {
  const { wide, high, inks, whole } = stamp
  const { parts, wholes } = on
  const first = Math.max(0, -left)
  const last = Math.min(wide, width - left)
  for (let j = Math.max(0, -top); j < high && top + j < height; j++) {
    let from = j * wide + first
    let to = (top + j) * width + left + first
    for (let i = first; i < last; i++, from++, to++) {
      const ink = whole[from] as number
      if (ink === 0) continue
      const f = from << 2
      const opacity = inks[f + 3] as number
      if (opacity === 255) {
        wholes[to] = ink
        continue
      }
      const t = to << 2
      const rest = 255 - opacity
      // To divide by 255 is to multiply by 257 and take 65536ths, half of one added.
      parts[t] = (inks[f] as number) + (((parts[t] as number) * rest * 257 + 32768) >> 16)
      parts[t + 1] = (inks[f + 1] as number) + (((parts[t + 1] as number) * rest * 257 + 32768) >> 16)
      parts[t + 2] = (inks[f + 2] as number) + (((parts[t + 2] as number) * rest * 257 + 32768) >> 16)
      parts[t + 3] = opacity + (((parts[t + 3] as number) * rest * 257 + 32768) >> 16)
    }
  }
}

function cut(brush: Brush, radius: number, angle: number, [u, v]: readonly [number, number], ratio: number): Stamp {
  const reach = Math.ceil((brush.outline ? LONGEST : 1) * radius + (brush.width * ratio) / 2 + 1)
  const side = 2 * reach + 1
  const canvas = document.createElement('canvas')
  canvas.width = canvas.height = side
  const context = canvas.getContext('2d', { willReadFrequently: true }) as CanvasRenderingContext2D
  drawShape(context, [reach + u, reach + v, radius], brush, angle, ratio)
  const { data } = context.getImageData(0, 0, side, side)
  for (let i = 0; i < data.length; i += 4) {
    const share = (data[i + 3] as number) / 255
    for (let k = 0; k < 3; k++) data[i + k] = (data[i + k] as number) * share
  }
  return trimmed(data, side, reach)
}

/** A stamp without its empty rim. */
function trimmed(data: Uint8ClampedArray, side: number, reach: number): Stamp {
  let [left, top, right, bottom] = [side, side, 0, 0]
  for (let i = 0; i < side * side; i++) {
    if (!data[4 * i + 3]) continue
    left = Math.min(left, i % side)
    right = Math.max(right, (i % side) + 1)
    top = Math.min(top, Math.floor(i / side))
    bottom = Math.max(bottom, Math.floor(i / side) + 1)
  }
  const [wide, high] = [Math.max(0, right - left), Math.max(0, bottom - top)]
  const inks = new Uint8ClampedArray(4 * wide * high)
  for (let j = 0; j < high; j++) {
    const from = 4 * ((top + j) * side + left)
    inks.set(data.subarray(from, from + 4 * wide), 4 * j * wide)
  }
  return { left: left - reach, top: top - reach, wide, high, inks, whole: new Uint32Array(inks.buffer) }
}

/** What was pressed, laid over what the canvas has already. */
function lay(context: CanvasRenderingContext2D, box: number[], width: number, height: number): void {
  const left = Math.max(0, box[0] as number)
  const top = Math.max(0, box[1] as number)
  const [wide, high] = [Math.min(width, box[2] as number) - left, Math.min(height, box[3] as number) - top]
  if (wide <= 0 || high <= 0) return
  const image = new ImageData(wide, high)
  const { data } = image
  for (let j = 0; j < high; j++)
    for (let i = 0; i < wide; i++) {
      const from = 4 * ((top + j) * width + left + i)
      const opacity = paper.parts[from + 3] as number
      if (opacity === 0) continue
      const to = 4 * (j * wide + i)
      const part = 255 / opacity
      for (let k = 0; k < 3; k++) data[to + k] = (paper.parts[from + k] as number) * part
      data[to + 3] = opacity
    }
  cast ??= document.createElement('canvas').getContext('2d')
  if (!cast) return
  cast.canvas.width = wide
  cast.canvas.height = high
  cast.putImageData(image, 0, 0)
  context.drawImage(cast.canvas, left, top)
}
