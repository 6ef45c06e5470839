import type { Mark } from '../api/types'

/** A stroke ready for a canvas; widths and dashes in px of the screen. */
export interface Stroke {
  colour: string
  width: number
  dash: readonly number[]
  cap: CanvasLineCap
}

/** A mark ready for a canvas: what the server's painter draws of it, in the same order. */
export interface Brush {
  fill: string | null
  texture: Texture | null
  inner: Stroke | null
  /** From the lowest to the one on top. */
  strokes: readonly Stroke[]
  /** Of the widest stroke. */
  width: number
  /** The outline of a point's shape at a radius of 1; null is a circle. */
  outline: Path2D | null
  /** Degrees, clockwise. */
  turn: number
  /** By which wedges are filled. */
  opacity: number
  /** What is drawn in place of all this. */
  icon: HTMLImageElement | null
  /** What stands over a point's shape, at a radius of 1, and its colour. */
  sign: { outline: Path2D; colour: string } | null
}

const icons = new Map<string, HTMLImageElement>()

/** Get the icons of marks ready, so that they are there when they are drawn. */
export async function loadIcons(marks: readonly Mark[]): Promise<void> {
  const wanted = marks.flatMap(({ icon }) => (icon && !icons.has(icon) ? [icon] : []))
  await Promise.allSettled(
    wanted.map(async (icon) => {
      const image = new Image()
      image.src = `data:image/png;base64,${icon}`
      await image.decode()
      icons.set(icon, image)
    }),
  )
}

/** An icon in the middle of (x, y), its longer side twice `radius` long. */
export function drawIcon(
  context: CanvasRenderingContext2D,
  [x, y, radius]: readonly [number, number, number],
  { icon, opacity, turn }: Brush,
  angle: number,
): void {
  if (!icon) return
  const scale = (2 * radius) / Math.max(icon.naturalWidth, icon.naturalHeight, 1)
  const [wide, high] = [icon.naturalWidth * scale, icon.naturalHeight * scale]
  context.save()
  context.translate(x, y)
  context.rotate(((turn + angle) * Math.PI) / 180)
  context.globalAlpha = opacity
  context.imageSmoothingQuality = 'high'
  context.drawImage(icon, -wide / 2, -high / 2, wide, high)
  context.restore()
}

/** The sign of a brush, upright in the middle of (x, y). */
export function drawSign(
  context: CanvasRenderingContext2D,
  [x, y, radius]: readonly [number, number, number],
  { sign }: Brush,
): void {
  if (!sign) return
  context.save()
  context.translate(x, y)
  context.scale(radius, radius)
  context.fillStyle = sign.colour
  context.fill(sign.outline)
  context.restore()
}

type Texture = NonNullable<Mark['texture']>

/** What of a mark is a feature's own. */
export interface Own {
  colour?: string | null
  opacity?: number
  width?: number | null
}

export function rgba(hex: string, opacity: number): string {
  const n = parseInt(hex.slice(1), 16)
  return `rgba(${n >> 16},${(n >> 8) & 255},${n & 255},${opacity})`
}

const faint = new WeakMap<Brush, (Brush | undefined)[]>()
const SHADES = 8

/** The same brush with a share of its opacity, in so few steps that few brushes serve many marks. */
export function fainter(brush: Brush, share: number): Brush {
  const step = Math.ceil(share * SHADES)
  if (step >= SHADES) return brush
  const known = faint.get(brush) ?? []
  faint.set(brush, known)
  return (known[step] ??= faded(brush, step / SHADES))
}

function faded(brush: Brush, share: number): Brush {
  const colour = (text: string) => text.replace(/[\d.]+\)$/, (alpha) => `${parseFloat(alpha) * share})`)
  const stroke = (each: Stroke) => ({ ...each, colour: colour(each.colour) })
  return {
    ...brush,
    fill: brush.fill && colour(brush.fill),
    texture: brush.texture && { ...brush.texture, opacity: brush.texture.opacity * share },
    inner: brush.inner && stroke(brush.inner),
    strokes: brush.strokes.map(stroke),
    opacity: brush.opacity * share,
  }
}

/** The brush of a mark. Of lines the feature's own colour, width and opacity are those of the strokes, else those of the fill. */
export function brushOf(mark: Mark, kind: string, { colour, opacity = 1, width }: Own = {}): Brush {
  const lines = kind === 'lines'
  const last = mark.strokes.length - 1
  const wider = lines && width != null && last >= 0 ? width - (mark.strokes[last]?.width ?? 0) : 0
  const strokes = mark.strokes
    .map((line, i) => ({
      colour: rgba((lines && i === last && colour) || line.colour, line.opacity * (lines ? opacity : 1)),
      width: Math.max(0, line.width + wider),
      dash: line.dash ?? [],
      cap: (line.cap ?? 'round') as CanvasLineCap,
      seen: line.opacity > 0,
    }))
    .filter((stroke) => stroke.seen && stroke.width > 0)
  const shade = mark.fill_opacity * opacity
  const inner = mark.inner
  return {
    fill: !lines && shade > 0 ? rgba(colour ?? mark.fill, shade) : null,
    texture: lines || !mark.texture ? null : { ...mark.texture, opacity: mark.texture.opacity * opacity },
    inner: inner
      ? {
          colour: rgba(inner.colour, inner.opacity),
          width: 2 * inner.width,
          dash: inner.dash ?? [],
          cap: (inner.cap ?? 'round') as CanvasLineCap,
        }
      : null,
    strokes,
    width: Math.max(0, ...strokes.map((stroke) => stroke.width)),
    outline: mark.path ? new Path2D(mark.path) : null,
    turn: mark.turn,
    opacity: mark.fill_opacity,
    icon: (mark.icon && icons.get(mark.icon)) || null,
    sign: mark.sign ? { outline: new Path2D(mark.sign), colour: mark.sign_colour } : null,
  }
}

/** Take a stroke in hand; `unit` is px of the canvas, as it is scaled now, to one of the screen. */
export function takeStroke(context: CanvasRenderingContext2D, stroke: Stroke, unit: number): void {
  context.strokeStyle = stroke.colour
  context.lineWidth = stroke.width * unit
  context.lineCap = stroke.cap
  context.setLineDash(stroke.dash.map((part) => part * unit))
}

/** Lines or dots over a box of the canvas, at places that depend on `origin` alone: none is cut or shifted at the edge of a tile. */
export function drawTexture(
  context: CanvasRenderingContext2D,
  [left, top, right, bottom]: readonly [number, number, number, number],
  texture: Texture,
  [ox, oy]: readonly [number, number],
  ratio: number,
): void {
  const step = texture.spacing * ratio
  const colour = rgba(texture.colour, texture.opacity)
  const turns = texture.kind === 'cross' ? [texture.turn, texture.turn + 90] : [texture.turn]
  context.beginPath()
  for (const turn of turns) {
    const c = Math.cos((turn * Math.PI) / 180)
    const s = Math.sin((turn * Math.PI) / 180)
    const corners = [left, right].flatMap((x) => [top, bottom].map((y) => [x - ox, y - oy] as const))
    const along = corners.map(([x, y]) => x * c + y * s)
    const across = corners.map(([x, y]) => y * c - x * s)
    const [from, to] = [Math.min(...along), Math.max(...along)]
    const place = (t: number, d: number) => [ox + t * c - d * s, oy + t * s + d * c] as const
    for (let k = Math.floor(Math.min(...across) / step); k <= Math.ceil(Math.max(...across) / step); k++) {
      if (texture.kind !== 'dots') {
        context.moveTo(...place(from, k * step))
        context.lineTo(...place(to, k * step))
        continue
      }
      const radius = (texture.width / 2) * ratio
      for (let i = Math.floor(from / step); i <= Math.ceil(to / step); i++) {
        const [x, y] = place(i * step, k * step)
        if (x < left - radius || x > right + radius || y < top - radius || y > bottom + radius) continue
        context.moveTo(x + radius, y)
        context.arc(x, y, radius, 0, 2 * Math.PI)
      }
    }
  }
  if (texture.kind === 'dots') {
    context.fillStyle = colour
    context.fill()
  } else {
    takeStroke(context, { colour, width: texture.width, dash: [], cap: 'butt' }, ratio)
    context.stroke()
  }
}

/** The wedges of a pie or ring, clockwise from the top, each with the brush's strokes. */
export function drawWedges(
  context: CanvasRenderingContext2D,
  [x, y, radius]: readonly [number, number, number],
  shares: Float32Array,
  colours: readonly string[],
  hollow: number,
  brush: Brush,
  ratio: number,
): void {
  const hole = hollow * radius
  let start = -Math.PI / 2
  shares.forEach((share, i) => {
    if (share <= 0) return
    const end = start + share * 2 * Math.PI
    context.beginPath()
    if (share >= 0.9999) {
      context.arc(x, y, radius, 0, 2 * Math.PI)
      if (hole > 0) {
        context.moveTo(x + hole, y)
        context.arc(x, y, hole, 0, 2 * Math.PI, true)
      }
    } else {
      if (hole <= 0) context.moveTo(x, y)
      context.arc(x, y, radius, start, end)
      if (hole > 0) context.arc(x, y, hole, end, start, true)
      context.closePath()
    }
    context.fillStyle = rgba(colours[i] ?? '#000000', brush.opacity)
    context.fill()
    for (const stroke of brush.strokes) {
      takeStroke(context, stroke, ratio)
      context.stroke()
    }
    start = end
  })
}
