import { containsXY, createEmpty, extend, type Extent, getCenter, getIntersection } from 'ol/extent'
import { type Brush, drawIcon, drawSign, drawTexture, drawWedges, type Stroke, takeStroke } from './brush'
import type { Pens } from './pens'
import type { Shape } from './shapes'

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

/** A place of the canvas that stands still on the ground: textures count from there. */
export type Origin = readonly [number, number]

/** Draw areas and lines in the order of their rows, or in that of their pens; of lines the lowest strokes of all of them first. */
export function drawPaths(
  context: CanvasRenderingContext2D,
  piece: Piece,
  pens: Pens,
  pixelRatio: number,
  origin: Origin,
): void {
  const { x, y, scale } = piece
  const canvas = [0, 0, context.canvas.width, context.canvas.height]
  const [left = 0, top = 0, right = 0, bottom = 0] = getIntersection(piece.rects.reduce(extend, createEmpty()), canvas)
  const seen = ({ box }: Shape, beyond: number) =>
    x + scale * box[2] + beyond > left &&
    y + scale * box[3] + beyond > top &&
    x + scale * box[0] - beyond < right &&
    y + scale * box[1] - beyond < bottom
  context.save()
  // Two tiles that both smooth the edge between them leave a hairline. Cut at the same whole pixel they leave none, and nothing
  // is missing: their shapes reach over the edge.
  context.beginPath()
  for (const [x0 = 0, y0 = 0, x1 = 0, y1 = 0] of piece.rects) context.rect(x0, y0, x1 - x0, y1 - y0)
  context.clip()
  context.setTransform(scale, 0, 0, scale, x, y)
  let last: Brush | null = null
  const lines: { outline: Path2D; strokes: readonly Stroke[] }[] = []
  let most = 0
  for (const shape of inOrder(piece.shapes, pens)) {
    const brush = pens.of(shape.row)
    const { outline, area } = shape
    if (!brush || !outline || !seen(shape, brush.width * pixelRatio)) continue
    if (!area) {
      lines.push({ outline, strokes: brush.strokes })
      most = Math.max(most, brush.strokes.length)
      continue
    }
    if (brush.fill) {
      if (brush !== last) context.fillStyle = brush.fill
      context.fill(area)
    }
    if (brush.texture || brush.inner) drawWithin(context, brush, shape, piece, pixelRatio, origin)
    for (const stroke of brush.strokes) {
      if (brush !== last || brush.strokes.length > 1 || brush.texture || brush.inner)
        takeStroke(context, stroke, pixelRatio / scale)
      context.stroke(outline)
    }
    last = brush.texture ? null : brush
  }
  // Lines run into one another: no casing lies over another's top stroke.
  for (let below = most; below > 0; below--) {
    let taken: Stroke | null = null
    for (const { outline, strokes } of lines) {
      const stroke = strokes.at(-below)
      if (!stroke) continue
      if (stroke !== taken) takeStroke(context, stroke, pixelRatio / scale)
      taken = stroke
      context.stroke(outline)
    }
  }
  context.restore()
}

function inOrder(shapes: Shape[], pens: Pens): Shape[] {
  return pens.ordered ? shapes.toSorted((a, b) => pens.rank(a.row) - pens.rank(b.row)) : shapes
}

/** What is drawn inside the edge of an area alone. */
function drawWithin(
  context: CanvasRenderingContext2D,
  { texture, inner }: Brush,
  { area, outline, box }: Shape,
  { x, y, scale, rects }: Piece,
  pixelRatio: number,
  origin: Origin,
): void {
  if (!area || !outline) return
  context.save()
  context.clip(area)
  if (texture) {
    const { width, height } = context.canvas
    const placed = [x + scale * box[0], y + scale * box[1], x + scale * box[2], y + scale * box[3]]
    const inside = getIntersection(getIntersection(placed, rects.reduce(extend, createEmpty())), [0, 0, width, height])
    const [left = 0, top = 0, right = 0, bottom = 0] = inside
    context.save()
    context.setTransform(1, 0, 0, 1, 0, 0)
    if (left < right && top < bottom) drawTexture(context, [left, top, right, bottom], texture, origin, pixelRatio)
    context.restore()
  }
  if (inner) {
    takeStroke(context, inner, pixelRatio / scale)
    context.stroke(outline)
  }
  context.restore()
}

/** The symbols of points, in the order in which they are drawn, whichever tile they are in. */
export function symbolsOf(pieces: Piece[], pens: Pens): PlacedSymbol[] {
  const symbols: PlacedSymbol[] = []
  for (const { shapes, x, y, scale, rects } of pieces)
    for (const shape of shapes) {
      if (shape.outline || !pens.of(shape.row)) continue
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
  for (const { shape, x, y, radius } of symbols) {
    const brush = pens.of(shape.row)
    if (!brush) continue
    const wide = radius * pixelRatio
    const wedges = pens.wedges(shape.row)
    if (wedges) {
      drawWedges(context, [x, y, wide], wedges.shares, wedges.colours, wedges.hollow, brush, pixelRatio)
      continue
    }
    if (brush.icon) {
      drawIcon(context, [x, y, wide], brush, pens.angle(shape.row))
    } else {
      drawShape(context, [x, y, wide], brush, pens.angle(shape.row), pixelRatio)
    }
    drawSign(context, [x, y, wide], brush)
  }
}

/** A point's shape: its fill, its texture, its strokes. */
export function drawShape(
  context: CanvasRenderingContext2D,
  [x, y, radius]: readonly [number, number, number],
  brush: Brush,
  angle: number,
  pixelRatio: number,
): void {
  const outline = outlineAt(brush, x, y, radius, angle)
  if (brush.fill) {
    context.fillStyle = brush.fill
    context.fill(outline)
  }
  if (brush.texture) {
    context.save()
    context.clip(outline)
    const far = radius * 1.5
    drawTexture(context, [x - far, y - far, x + far, y + far], brush.texture, [x, y], pixelRatio)
    context.restore()
  }
  for (const stroke of brush.strokes) {
    takeStroke(context, stroke, pixelRatio)
    context.stroke(outline)
  }
}

/** The outline of a point's shape where it stands. */
function outlineAt({ outline, turn }: Brush, x: number, y: number, radius: number, angle: number): Path2D {
  const path = new Path2D()
  if (outline)
    path.addPath(
      outline,
      new DOMMatrix()
        .translate(x, y)
        .rotate(turn + angle)
        .scale(radius),
    )
  else path.arc(x, y, radius, 0, 2 * Math.PI)
  return path
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
      if (!pens.of(row)) continue
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
  context.save()
  context.setTransform(1, 0, 0, 1, 0, 0)
  const pressed = inOrder(piece.shapes, pens).findLast(({ row, area, outline, box }) => {
    const brush = pens.of(row)
    if (!brush || !outline) return false
    const near = ((brush.width + 2 * pens.slack) * pixelRatio) / piece.scale
    if (x < box[0] - near || x > box[2] + near || y < box[1] - near || y > box[3] + near) return false
    context.lineWidth = near
    if ((brush.fill || brush.texture) && area && context.isPointInPath(area, x, y)) return true
    return brush.strokes.length > 0 && context.isPointInStroke(outline, x, y)
  })
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
    const width = pens.of(shape.row)?.width ?? 0
    return Math.hypot(x - px, y - py) <= (radius + width / 2 + pens.slack) * pixelRatio
  })?.shape
}
