import type { Coordinate } from 'ol/coordinate'
import { type Box, meet } from './labels'

/** A meridian or parallel, as the server says it: its name, and its pieces in units of the map. */
export interface GraticuleLine {
  kind: 'meridian' | 'parallel'
  name: string
  paths: Coordinate[][]
}

export interface Seen {
  /** Where the middle of the picture is. */
  center: Coordinate
  /** Units to a px. */
  resolution: number
  width: number
  height: number
  ratio: number
}

export interface GroundStyle {
  sea: string | null
  graticule: { colour: string; width: number; labelled: boolean } | null
}

export interface Ground {
  outline: Coordinate[][]
  lines: GraticuleLine[]
  style: GroundStyle
}

/** As the server's painter has them. */
const LABEL = 11
const GAP = 4
const HALO = 2
const INK = '#4f5b5f'
/** Px at the lower right where the scale bar stands. */
const SCALE_BAR = 136
const SCALE_BAR_HIGH = 34
/** Of the width of a picture: what is nearer to its edge than this is at the edge. */
const INSET = 0.002

/** Below all layers: the globe as the projection shows it, meridians and parallels. */
export function drawGround(context: CanvasRenderingContext2D, ground: Ground, seen: Seen): void {
  cleared(context, seen)
  const { sea, graticule } = ground.style
  if (sea && ground.outline.length > 0) {
    context.beginPath()
    for (const ring of ground.outline) trace(context, ring, seen, true)
    context.fillStyle = sea
    context.fill('evenodd')
  }
  if (!graticule || graticule.width <= 0) return
  context.strokeStyle = graticule.colour
  context.lineWidth = graticule.width
  context.beginPath()
  for (const line of ground.lines) for (const path of line.paths) trace(context, path, seen, false)
  context.stroke()
}

/** Over everything: the degrees of parallels at the left edge and of meridians at the lower one, or where the globe ends within the
 * picture; those that find room beside the labels that cover some of it. */
export function drawDegrees(
  context: CanvasRenderingContext2D,
  ground: Ground,
  seen: Seen,
  covered: readonly Box[],
): void {
  cleared(context, seen)
  if (!ground.style.graticule?.labelled) return
  context.font = `${LABEL}px "sans-500"`
  context.lineJoin = 'round'
  const taken = [...covered]
  for (const { name, edge, x, y } of edgeLabels(ground.lines, seen).sort((a, b) => a.x - b.x)) {
    const long = context.measureText(name).width
    const [left, base] = begins(edge, x, y, long, seen.height)
    const [right, top] = [left + long, base - LABEL]
    const beneath = right > seen.width - SCALE_BAR && base > seen.height - SCALE_BAR_HIGH
    if (left < GAP || right > seen.width || top < 0 || base > seen.height - GAP || beneath) continue
    const box: Box = [left - GAP, top, right, base]
    if (taken.some((other) => meet(box, other))) continue
    taken.push(box)
    context.strokeStyle = 'rgba(255,255,255,0.85)'
    context.lineWidth = 2 * HALO
    context.strokeText(name, left, base)
    context.fillStyle = INK
    context.fillText(name, left, base)
  }
}

type Edge = 'left' | 'lower' | 'beside' | 'under'

interface EdgeLabel {
  name: string
  edge: Edge
  /** Px in the picture. */
  x: number
  y: number
}

/** Where degrees are written: at the edge that a line meets, or else to the left of where a parallel ends, and below where a meridian
 * does. Meridians that end together, as at a pole, have none there. */
export function edgeLabels(lines: readonly GraticuleLine[], seen: Seen): EdgeLabel[] {
  const labels: EdgeLabel[] = []
  const ends: EdgeLabel[] = []
  const inset = seen.width * INSET
  for (const line of lines) {
    const { name } = line
    const at = crossing(line, seen)
    if (at !== null) {
      labels.push(
        line.kind === 'meridian' ? { name, edge: 'lower', x: at, y: seen.height } : { name, edge: 'left', x: 0, y: at },
      )
      continue
    }
    const meridian = line.kind === 'meridian'
    const places = line.paths.flat().map((place) => placed(place, seen))
    const least = Math.min(...places.map(([x, y]) => (meridian ? -y : x)))
    const end = places.find(([x, y]) => (meridian ? -y : x) === least)
    if (!end) continue
    const [x, y] = end
    if (x > inset && y > inset && x < seen.width - inset && y < seen.height - inset)
      ends.push({ name, edge: meridian ? 'under' : 'beside', x, y })
  }
  const together = (one: EdgeLabel, other: EdgeLabel) =>
    other !== one && Math.abs(one.x - other.x) < inset && Math.abs(one.y - other.y) < inset
  return [...labels, ...ends.filter((end) => end.edge === 'beside' || !ends.some((other) => together(end, other)))]
}

/** Where the words begin, and their baseline. */
function begins(edge: Edge, x: number, y: number, long: number, height: number): [left: number, base: number] {
  if (edge === 'left') return [GAP, y - GAP]
  if (edge === 'lower') return [x + GAP, height - GAP]
  if (edge === 'under') return [x - long / 2, y + GAP + LABEL * 0.8]
  return x - GAP - long >= GAP ? [x - GAP - long, y + LABEL / 3] : [x + GAP, y - GAP]
}

/** Px along the edge where a line first meets it: from the top for parallels at the left edge, from the left for meridians below. */
export function crossing(line: GraticuleLine, seen: Seen): number | null {
  const below = line.kind === 'meridian'
  for (const path of line.paths) {
    for (let i = 1; i < path.length; i++) {
      const [ax, ay] = placed(path[i - 1] ?? [], seen)
      const [bx, by] = placed(path[i] ?? [], seen)
      const [from, to, edge] = below ? [ay, by, seen.height] : [ax, bx, 0]
      if (from === to || (from - edge) * (to - edge) > 0) continue
      const share = (edge - from) / (to - from)
      const at = below ? ax + (bx - ax) * share : ay + (by - ay) * share
      if (at >= 0 && at <= (below ? seen.width : seen.height)) return at
    }
  }
  return null
}

function trace(context: CanvasRenderingContext2D, path: Coordinate[], seen: Seen, closed: boolean): void {
  path.forEach((place, i) => {
    const [x, y] = placed(place, seen)
    if (i === 0) context.moveTo(x, y)
    else context.lineTo(x, y)
  })
  if (closed) context.closePath()
}

function placed(
  [x = 0, y = 0]: Coordinate,
  { center: [cx = 0, cy = 0], resolution, width, height }: Seen,
): [number, number] {
  return [(x - cx) / resolution + width / 2, (cy - y) / resolution + height / 2]
}

function cleared(context: CanvasRenderingContext2D, { width, height, ratio }: Seen): void {
  const { canvas } = context
  const [wide, high] = [Math.round(width * ratio), Math.round(height * ratio)]
  if (canvas.width !== wide || canvas.height !== high) [canvas.width, canvas.height] = [wide, high]
  context.setTransform(ratio, 0, 0, ratio, 0, 0)
  context.clearRect(0, 0, width, height)
}
