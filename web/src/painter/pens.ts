import type { Frame } from './frame'
import { brushOf, type Brush, fainter } from './brush'
import { type Ink, inkAt, UNDRAWN } from './ink'

/** What each row is drawn with. */
export interface Pens {
  /** Null: the row is not drawn. */
  of: (row: number) => Brush | null
  /** Of the symbol of a point, in px. */
  radius: (row: number) => number
  /** Degrees by which it is turned over its brush's turn. */
  angle: (row: number) => number
  /** Its wedges, where it has any. */
  wedges: (row: number) => Wedges | null
  /** Marks are drawn in this order where `ordered`, else in that of rows. */
  rank: (row: number) => number
  ordered: boolean
  /** Px by which the largest mark stands out over its place, line or outline. */
  reach: number
  /** Px by which a pointer may miss a mark. */
  slack: number
  /** The pens of what is seen at so many units to a px, where some marks are not seen at all scales. */
  at?: (resolution: number) => Pens
}

export interface Wedges {
  shares: Float32Array
  colours: readonly string[]
  hollow: number
}

/** How far shapes of points reach at most, in radii. */
const LONGEST = 1.5

export const NO_PENS: Pens = {
  of: () => null,
  radius: () => 0,
  angle: () => 0,
  wedges: () => null,
  rank: (row) => row,
  ordered: false,
  reach: 0,
  slack: 0,
}

const HALO = { colour: 'rgba(255,255,255,0.9)', width: 5, dash: [], cap: 'round' as const }
const RING = { colour: '#8a6514', width: 2.5, dash: [], cap: 'round' as const }
const RINGED_POINT = 9
const NOTHING: Brush = {
  fill: null,
  texture: null,
  inner: null,
  strokes: [],
  width: 0,
  outline: null,
  turn: 0,
  opacity: 1,
  icon: null,
  sign: null,
}
const AROUND: Brush = { ...NOTHING, strokes: [HALO, RING], width: HALO.width }
const HATCHED: Brush = {
  ...NOTHING,
  fill: 'rgba(255,255,255,0.55)',
  texture: { kind: 'hatch', colour: '#8a6514', opacity: 1, turn: 45, spacing: 6, width: 1.25 },
  strokes: [{ ...RING, width: 1.25 }],
  width: 1.25,
}

/** A ring in brass around each of some features, to be drawn over everything. */
export const ringAround = (...rows: readonly number[]): Pens => overlaid(AROUND, rows)

/** Some areas hatched in brass, to be drawn over everything. */
export const hatched = (...rows: readonly number[]): Pens => overlaid(HATCHED, rows)

function overlaid(brush: Brush, rows: readonly number[]): Pens {
  const marked = new Set(rows)
  return {
    ...NO_PENS,
    of: (row) => (marked.has(row) ? brush : null),
    radius: () => RINGED_POINT,
    reach: RINGED_POINT + HALO.width,
  }
}

/** The same pens for some rows alone, by `taken`, each as faint as its `strength` says. */
export function sifted(pens: Pens, taken: Uint8Array, strength: Float32Array | null): Pens {
  const of = (row: number): Brush | null => {
    if (!taken[row]) return null
    const brush = pens.of(row)
    return brush && strength ? fainter(brush, strength[row] ?? 1) : brush
  }
  const { at } = pens
  return { ...pens, of, ...(at && { at: (resolution: number) => sifted(at(resolution), taken, strength) }) }
}

/** Every row's brush is looked up in the ink; rows without a mark have none. */
export function pensFromInk(ink: Ink, frame: Frame): Pens {
  const brushes = new Brushes(ink)
  const pens = pensAtAllScales(ink, brushes)
  const ranges = ink.header.palette.map(({ closest, farthest }) => ({
    from: closest == null ? 0 : frame.resolutionAt(closest) * (1 - ABOUT),
    to: farthest == null ? Infinity : frame.resolutionAt(farthest) * (1 + ABOUT),
  }))
  const always = ranges.every(({ from, to }) => from === 0 && to === Infinity)
  if (always && !ink.ground) return pens
  const at = (resolution: number) => {
    // Ranks are the same at all scales, and what is sorted by them stays so.
    const own = ink.ground ? { ...pensAtAllScales(inkAt(ink, resolution), brushes), rank: pens.rank } : pens
    if (always) return own
    const seen = ranges.map(({ from, to }) => resolution >= from && resolution <= to)
    return { ...own, of: (row: number) => (seen[ink.mark[row] ?? UNDRAWN] ? own.of(row) : null) }
  }
  return { ...pens, at }
}

/** By so much a scale may miss its limit: that of a map is never quite what it is said to be. */
const ABOUT = 1e-6

/** The brushes of an ink, each made once. */
class Brushes {
  private readonly header: Ink['header']
  private readonly known = new Map<string, Brush>()
  private readonly alike: Brush[]

  constructor({ header }: Ink) {
    this.header = header
    this.alike = header.palette.map((mark) => brushOf(mark, header.kind))
  }

  /** That of a place in the palette. */
  of(position: number): Brush | null {
    return this.alike[position] ?? null
  }

  /** The same with a colour by its place, an opacity, of lines a width. */
  varied(position: number, at: number, faint: number, width: number | null): Brush | null {
    // As fine as a channel of a colour can tell apart, so that few brushes serve many rows.
    const name = `${position} ${at} ${Math.round(faint * 255)} ${width ?? ''}`
    const brush = this.known.get(name)
    const look = this.header.palette[position]
    if (brush || !look) return brush ?? null
    const fresh = brushOf(look, this.header.kind, {
      colour: at === UNDRAWN ? null : (this.header.colours[at] ?? null),
      opacity: faint,
      width,
    })
    this.known.set(name, fresh)
    return fresh
  }
}

function pensAtAllScales(ink: Ink, brushes: Brushes): Pens {
  const { header, mark, ramp, size, angle, opacity, shares, rank } = ink
  const { palette, kind } = header
  const points = kind === 'points'
  const varied = ramp !== null || opacity !== null || (size !== null && !points)
  const ownBrush = (row: number, position: number) =>
    brushes.varied(position, ramp?.[row] ?? UNDRAWN, opacity?.[row] ?? 1, points ? null : (size?.[row] ?? null))
  const wide = header.wedges.length
  return {
    of: (row) => {
      const position = mark[row] ?? UNDRAWN
      if (position === UNDRAWN) return null
      return varied ? ownBrush(row, position) : brushes.of(position)
    },
    radius: (row) => (points ? size?.[row] : null) ?? palette[mark[row] ?? UNDRAWN]?.radius ?? 0,
    angle: (row) => angle?.[row] ?? 0,
    wedges: (row) => {
      const own = shares?.subarray(row * wide, (row + 1) * wide)
      return own?.some((share) => share > 0) ? { shares: own, colours: header.wedges, hollow: header.hollow } : null
    },
    rank: (row) => rank?.[row] ?? row,
    ordered: rank !== null,
    reach: reachOf(ink),
    slack: header.slack,
  }
}

/** Px by which the largest mark of an ink stands out: the rule by which the server's painter pads its pictures. */
export function reachOf({ header, size }: Pick<Ink, 'header' | 'size'>): number {
  const points = header.kind === 'points'
  const largest = size ? size.reduce((most, r) => Math.max(most, r), 0) : 0
  const marks = header.palette.map(({ strokes, radius, path, icon }) => {
    const half = Math.max(0, ...strokes.map((line) => line.width)) / 2
    if (!points) return size ? Math.max(half, half + (largest - (strokes.at(-1)?.width ?? 0)) / 2) : half
    return half + (size ? largest : radius) * (path || icon ? LONGEST : 1)
  })
  return Math.max(0, ...marks)
}
