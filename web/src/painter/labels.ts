import type { LabelStyle } from '../api/types'

/** How the labels of a layer look, in px. */
export type LabelLook = LabelStyle

/** A piece of a label: text, face, line of the lettering, share of that line's size, px right and down to where its baseline begins,
 * degrees clockwise, 1 where it runs from right to left, 1 where its letters may be set apart. */
type Piece = [
  text: string,
  face: string,
  line: number,
  share: number,
  dx: number,
  dy: number,
  turn: number,
  rtl: number,
  spaced: number,
]

/** What is drawn of a label, px from its place: pieces, the outline of its plate and its turn, the ends of its leader, and colours of its own. */
export interface LabelSet {
  p: Piece[]
  a?: string
  t?: number
  l?: [number, number, number, number]
  /** What it covers: left, top, right, bottom; those that were published before this have none. */
  b?: [number, number, number, number]
  c?: string
  h?: string
}

/** A label, and the pixel of the canvas that its place comes to. */
export interface PlacedLabel {
  at: [number, number]
  set: LabelSet
  /** How much larger the map is drawn than it was when the label was placed: what it names lies so much farther off. */
  stretch: number
}

const LEADER = 1

/** What a label covers of a canvas: left, top, right, bottom. */
export type Box = [left: number, top: number, right: number, bottom: number]

function coveredBy({ at: [x, y], set: { b } }: PlacedLabel, ratio: number): [Box] | null {
  return b ? [[x + b[0] * ratio, y + b[1] * ratio, x + b[2] * ratio, y + b[3] * ratio]] : null
}

/** Whether two boxes have something in common. */
export function meet(one: Box, other: Box): boolean {
  return one[0] < other[2] && other[0] < one[2] && one[1] < other[3] && other[1] < one[3]
}

/** Draw the labels of a layer on a canvas whose units are its pixels; says what they cover. */
export function drawLabels(
  context: CanvasRenderingContext2D,
  labels: PlacedLabel[],
  look: LabelLook,
  pixelRatio: number,
): Box[] {
  const { shadow, opacity } = look
  const whole = labels.filter((label) => isWhole(label, context.canvas, pixelRatio))
  const covered = whole.flatMap((label) => coveredBy(label, pixelRatio) ?? [])
  if (!whole.length) return covered
  if (opacity === 1 && !shadow) {
    for (const label of whole) drawLabel(context, label, look, pixelRatio)
    return covered
  }
  // What is half seen, or casts a shadow, does so as a whole.
  const apart = document.createElement('canvas')
  apart.width = context.canvas.width
  apart.height = context.canvas.height
  const own = apart.getContext('2d')
  if (!own) return []
  for (const label of whole) drawLabel(own, label, look, pixelRatio)
  context.save()
  context.setTransform(1, 0, 0, 1, 0, 0)
  context.globalAlpha = opacity
  if (shadow) {
    context.shadowColor = `${shadow.colour}${Math.round(shadow.opacity * 255)
      .toString(16)
      .padStart(2, '0')}`
    context.shadowOffsetX = shadow.right * pixelRatio
    context.shadowOffsetY = shadow.down * pixelRatio
    // A canvas blurs by half of what it is told.
    context.shadowBlur = 2 * shadow.blur * pixelRatio
  }
  context.drawImage(apart, 0, 0)
  context.restore()
  return covered
}

/** Whether nothing of a label is cut by the edge of what is seen. */
function isWhole(label: PlacedLabel, canvas: HTMLCanvasElement, ratio: number): boolean {
  const [box] = coveredBy(label, ratio) ?? []
  return !box || (box[0] >= 0 && box[1] >= 0 && box[2] <= canvas.width && box[3] <= canvas.height)
}

/** Those that cover none of the ones before them, as they stand on a canvas of so many pixels to a px. Labels that do not say what they
 * cover are kept. */
export function keptApart<T extends PlacedLabel>(labels: readonly T[], pixelRatio: number): T[] {
  const taken: Box[] = []
  return labels.filter((label) => {
    const [box] = coveredBy(label, pixelRatio) ?? []
    if (!box) return true
    const free = !taken.some((other) => meet(box, other))
    if (free) taken.push(box)
    return free
  })
}

function drawLabel(
  context: CanvasRenderingContext2D,
  { at, set, stretch }: PlacedLabel,
  look: LabelLook,
  ratio: number,
): void {
  const halo = set.h ?? look.halo_colour
  context.save()
  context.translate(at[0], at[1])
  context.scale(ratio, ratio)
  context.lineJoin = 'round'
  context.lineCap = 'round'
  if (set.l) {
    const [x0, y0, x1, y1] = set.l
    const leader: [number, number, number, number] = [x0, y0, x1 * stretch, y1 * stretch]
    const ink = set.c ?? look.lines[0]?.colour ?? '#000000'
    for (const [colour, width] of [[halo, LEADER + 2 * look.halo] as const, [ink, LEADER] as const])
      drawLeader(context, leader, colour, width)
  }
  if (set.a && look.frame) drawPlate(context, set.a, set.t ?? 0, look.frame)
  else if (look.halo > 0) {
    // All halos lie below all letters: that of one letter never covers the one before it.
    context.lineWidth = 2 * look.halo
    context.strokeStyle = halo
    for (const piece of set.p) onPiece(context, piece, look, (text) => context.strokeText(text, 0, 0))
  }
  for (const piece of set.p) {
    context.fillStyle = set.c ?? look.lines[piece[2]]?.colour ?? '#000000'
    onPiece(context, piece, look, (text) => context.fillText(text, 0, 0))
  }
  context.restore()
}

function onPiece(
  context: CanvasRenderingContext2D,
  [text, face, line, share, dx, dy, turn, rtl, spaced]: Piece,
  look: LabelLook,
  draw: (text: string) => void,
): void {
  const style = look.lines[line]
  if (!style) return
  const size = style.size * share
  context.save()
  context.translate(dx, dy)
  context.rotate((turn * Math.PI) / 180)
  context.font = `${size}px "${face}"`
  context.direction = rtl ? 'rtl' : 'ltr'
  context.textAlign = 'left'
  context.textBaseline = 'alphabetic'
  context.textRendering = 'geometricPrecision'
  context.letterSpacing = `${spaced ? style.spacing * size : 0}px`
  draw(text)
  context.restore()
}

function drawLeader(
  context: CanvasRenderingContext2D,
  [x0, y0, x1, y1]: [number, number, number, number],
  colour: string,
  width: number,
): void {
  context.beginPath()
  context.moveTo(x0, y0)
  context.lineTo(x1, y1)
  context.strokeStyle = colour
  context.lineWidth = width
  context.stroke()
}

function drawPlate(
  context: CanvasRenderingContext2D,
  outline: string,
  turn: number,
  frame: NonNullable<LabelLook['frame']>,
): void {
  const path = new Path2D(outline)
  context.save()
  context.rotate((turn * Math.PI) / 180)
  context.fillStyle = frame.fill
  context.fill(path)
  if (frame.width) {
    context.strokeStyle = frame.outline
    context.lineWidth = frame.width
    context.stroke(path)
  }
  context.restore()
}
