import { containsXY, createEmpty, extend, type Extent, getCenter, getIntersection } from 'ol/extent'
import type { Mark } from '../api/types'
import { UNDRAWN, type Ink } from './ink'
import type { Shape } from './shapes'

/** One round over a shape: filled, outlined or both, with a width in px of the screen. */
export interface Pen {
  fill: string | null
  stroke: string | null
  width: number
}

/** What each row is drawn with. */
export interface Pens {
  /** From below to above; a row without any is not drawn. */
  of: (row: number) => readonly Pen[]
  /** Of the symbol of a point, in px. */
  radius: (row: number) => number
  /** Symbols are drawn in this order. */
  rank: (row: number) => number
  /** Px by which the largest mark stands out over its place, line or outline. */
  reach: number
  /** Px by which a pointer may miss a mark. */
  slack: number
}

/** Shapes as they lie on a canvas: a shape's x goes to `x + scale * x`, seen inside `rects` (whole pixels). */
export interface Piece {
  shapes: Shape[]
  x: number
  y: number
  scale: number
  rects: Extent[]
}

/** The symbol of a point on a canvas; its radius is in px of the screen. */
export interface PlacedSymbol {
  shape: Shape
  x: number
  y: number
  radius: number
}

const NONE: readonly Pen[] = []
export const NO_PENS: Pens = { of: () => NONE, radius: () => 0, rank: (row) => row, reach: 0, slack: 0 }

const HALO: Pen = { fill: null, stroke: 'rgba(255,255,255,0.9)', width: 5 }
const RING: Pen = { fill: null, stroke: '#8a6514', width: 2.5 }
const RINGED_POINT = 9

/** A ring in brass around one feature, to be drawn over everything. */
export function ringAround(row: number): Pens {
  const pens = [HALO, RING]
  return {
    of: (other) => (other === row ? pens : NONE),
    radius: () => RINGED_POINT,
    rank: (other) => other,
    reach: RINGED_POINT + HALO.width,
    slack: 0,
  }
}

export function rgba(hex: string, opacity: number): string {
  const n = parseInt(hex.slice(1), 16)
  return `rgba(${n >> 16},${(n >> 8) & 255},${n & 255},${opacity})`
}

/** The pen of a mark: the same fill and stroke that the server's painter takes from it. */
export function penOf(mark: Mark, kind: string): Pen {
  const stroked = mark.stroke_width > 0 && mark.stroke_opacity > 0
  return {
    fill: mark.fill_opacity > 0 && kind !== 'lines' ? rgba(mark.fill, mark.fill_opacity) : null,
    stroke: stroked ? rgba(mark.stroke, mark.stroke_opacity) : null,
    width: stroked ? mark.stroke_width : 0,
  }
}

/** Every row's pen is looked up in the ink; rows without a mark have none. */
export function pensFromInk({ header, index, radius, rank }: Ink): Pens {
  const byPosition = header.palette.map((mark) => [penOf(mark, header.kind)])
  return {
    of: (row) => byPosition[index[row] ?? UNDRAWN] ?? NONE,
    radius: (row) => radius?.[row] ?? header.palette[index[row] ?? UNDRAWN]?.radius ?? 0,
    rank: (row) => rank?.[row] ?? row,
    reach: reachOf({ header, radius }),
    slack: header.slack,
  }
}

/** Px by which the largest mark of an ink stands out: the rule by which the server's painter pads its pictures. */
export function reachOf({ header, radius }: Pick<Ink, 'header' | 'radius'>): number {
  const points = header.kind === 'points'
  const largest = points && radius ? radius.reduce((most, r) => Math.max(most, r), 0) : 0
  const marks = header.palette.map((mark) => mark.stroke_width / 2 + (points && !radius ? mark.radius : 0))
  return largest + Math.max(0, ...marks)
}

/** Draw areas and lines in the order of their rows. */
export function drawPaths(context: CanvasRenderingContext2D, piece: Piece, pens: Pens, pixelRatio: number): void {
  const { x, y, scale } = piece
  const canvas = [0, 0, context.canvas.width, context.canvas.height]
  const [left = 0, top = 0, right = 0, bottom = 0] = getIntersection(piece.rects.reduce(extend, createEmpty()), canvas)
  context.save()
  // Two tiles that both smooth the edge between them leave a hairline. Cut at the same whole pixel they leave none, and nothing
  // is missing: their shapes reach over the edge.
  context.beginPath()
  for (const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] of piece.rects) context.rect(x0, y0, x1 - x0, y1 - y0)
  context.clip()
  context.setTransform(scale, 0, 0, scale, x, y)
  let last: Pen | null = null
  for (const { row, area, outline, box } of piece.shapes) {
    if (!outline) continue
    for (const pen of pens.of(row)) {
      const beyond = pen.width * pixelRatio
      const seen =
        x + scale * box[2] + beyond > left &&
        y + scale * box[3] + beyond > top &&
        x + scale * box[0] - beyond < right &&
        y + scale * box[1] - beyond < bottom
      if (!seen) continue
      if (pen !== last) take(context, pen, pixelRatio / scale)
      last = pen
      if (pen.fill && area) context.fill(area)
      if (pen.stroke) context.stroke(outline)
    }
  }
  context.restore()
}

/** The symbols of points, in the order in which they are drawn, whichever tile they are in. */
export function symbolsOf(pieces: Piece[], pens: Pens): PlacedSymbol[] {
  const symbols: PlacedSymbol[] = []
  for (const { shapes, x, y, scale, rects } of pieces)
    for (const shape of shapes) {
      if (shape.outline || pens.of(shape.row).length === 0) continue
      const radius = pens.radius(shape.row)
      for (let i = 0; i < shape.places.length; i += 2) {
        const at = { x: x + scale * (shape.places[i] ?? 0), y: y + scale * (shape.places[i + 1] ?? 0) }
        // Of a tile that stands in for others, only a part is seen.
        const seen = rects.some((rect) => containsXY(rect, Math.round(at.x), Math.round(at.y)))
        if (seen) symbols.push({ shape, ...at, radius })
      }
    }
  return symbols.sort((a, b) => pens.rank(a.shape.row) - pens.rank(b.shape.row))
}

/** Draw symbols at their very places, not at whole pixels: as readers will see them. */
export function drawSymbols(
  context: CanvasRenderingContext2D,
  symbols: PlacedSymbol[],
  pens: Pens,
  pixelRatio: number,
): void {
  for (const { shape, x, y, radius } of symbols)
    for (const pen of pens.of(shape.row)) {
      take(context, pen, pixelRatio)
      context.beginPath()
      context.arc(x, y, radius * pixelRatio, 0, 2 * Math.PI)
      if (pen.fill) context.fill()
      if (pen.stroke) context.stroke()
    }
}

function take(context: CanvasRenderingContext2D, pen: Pen, unit: number): void {
  if (pen.fill) context.fillStyle = pen.fill
  if (pen.stroke) context.strokeStyle = pen.stroke
  context.lineWidth = pen.width * unit
}

/** A shape that is seen: the middle of what is seen of it, in px of the screen. */
export interface SeenShape {
  row: number
  x: number
  y: number
}

/** The drawn shapes of which anything is seen on a canvas, each once. */
export function seenShapes(
  pieces: Piece[],
  pens: Pens,
  width: number,
  height: number,
  pixelRatio: number,
): SeenShape[] {
  const boxes = new Map<number, Extent>()
  for (const { shapes, x, y, scale, rects } of pieces) {
    const rect = getIntersection(rects.reduce(extend, createEmpty()), [0, 0, width, height])
    for (const { row, box } of shapes) {
      if (pens.of(row).length === 0) continue
      const placed = [x + scale * box[0], y + scale * box[1], x + scale * box[2], y + scale * box[3]]
      const part = getIntersection(placed, rect)
      if ((part[2] ?? 0) < (part[0] ?? 0) || (part[3] ?? 0) < (part[1] ?? 0)) continue
      boxes.set(row, extend(boxes.get(row) ?? createEmpty(), part))
    }
  }
  return [...boxes].map(([row, box]) => {
    const [x = 0, y = 0] = getCenter(box)
    return { row, x: x / pixelRatio, y: y / pixelRatio }
  })
}

/** The area or line on top at a pixel of the canvas, or within the slack px of the screen from it. */
export function pathAt(
  context: CanvasRenderingContext2D,
  piece: Piece,
  pens: Pens,
  [px, py]: [number, number],
  pixelRatio: number,
): Shape | undefined {
  if (!piece.rects.some((rect) => containsXY(rect, px, py))) return undefined
  const x = (px - piece.x) / piece.scale
  const y = (py - piece.y) / piece.scale
  const reach = (width: number) => ((width + 2 * pens.slack) * pixelRatio) / piece.scale
  context.save()
  context.setTransform(1, 0, 0, 1, 0, 0)
  const pressed = piece.shapes.findLast(({ row, area, outline, box }) =>
    pens.of(row).some((pen) => {
      const near = reach(pen.width)
      if (!outline || x < box[0] - near || x > box[2] + near || y < box[1] - near || y > box[3] + near) return false
      context.lineWidth = near
      if (pen.fill && area && context.isPointInPath(area, x, y)) return true
      return pen.stroke !== null && context.isPointInStroke(outline, x, y)
    }),
  )
  context.restore()
  return pressed
}

/** The symbol on top, in the same way; `symbols` in the order they were drawn in. */
export function symbolAt(
  symbols: PlacedSymbol[],
  pens: Pens,
  [px, py]: [number, number],
  pixelRatio: number,
): Shape | undefined {
  return symbols.findLast(({ shape, x, y, radius }) => {
    const width = Math.max(...pens.of(shape.row).map((pen) => pen.width))
    return Math.hypot(x - px, y - py) <= (radius + width / 2 + pens.slack) * pixelRatio
  })?.shape
}
