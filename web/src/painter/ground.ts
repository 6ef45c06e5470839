import type { Coordinate } from 'ol/coordinate'

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
  colour: string
  width: number
  labelled: boolean
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

/** Below all layers: the globe as the projection shows it, meridians and parallels. */
export function drawGround(context: CanvasRenderingContext2D, ground: Ground, seen: Seen): void {
  cleared(context, seen)
  const { sea, colour, width } = ground.style
  if (sea && ground.outline.length > 0) {
    context.beginPath()
    for (const ring of ground.outline) trace(context, ring, seen, true)
    context.fillStyle = sea
    context.fill('evenodd')
  }
  if (width <= 0) return
  context.strokeStyle = colour
  context.lineWidth = width
  context.beginPath()
  for (const line of ground.lines) for (const path of line.paths) trace(context, path, seen, false)
  context.stroke()
}

/** Over everything: the degrees of parallels at the left edge and of meridians at the lower one, those that find room. */
export function drawDegrees(context: CanvasRenderingContext2D, ground: Ground, seen: Seen): void {
  cleared(context, seen)
  if (!ground.style.labelled) return
  context.font = `${LABEL}px "sans-500"`
  context.lineJoin = 'round'
  let free = 0
  const labels = ground.lines.flatMap((line) => {
    const at = crossing(line, seen)
    return at === null ? [] : [{ line, at }]
  })
  for (const { line, at } of labels.sort((a, b) => a.at - b.at)) {
    const below = line.kind === 'meridian'
    const long = context.measureText(line.name).width
    const [left, base] = below ? [at + GAP, seen.height - GAP] : [GAP, at - GAP]
    if (left + long > seen.width - (below ? SCALE_BAR : 0) || base < LABEL || (below && left < free)) continue
    if (below) free = left + long + GAP
    context.strokeStyle = 'rgba(255,255,255,0.85)'
    context.lineWidth = 2 * HALO
    context.strokeText(line.name, left, base)
    context.fillStyle = INK
    context.fillText(line.name, left, base)
  }
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
