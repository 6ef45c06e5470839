import type { InkHeader, Mark } from '../api/types'
import { byFids, type Ink, UNDRAWN } from './ink'

const UNDRAWN_THEN = 255

interface EarlierMark {
  fill: string
  fill_opacity: number
  stroke: string
  stroke_width: number
  stroke_opacity: number
  radius: number
}

interface EarlierHeader {
  n: number
  sized?: boolean
  ordered?: boolean
  numbered?: boolean
  palette: EarlierMark[]
}

/** The ink of editions that were published before marks had several strokes: a byte per feature, then radii, order and fids. */
export function earlierInk(written: unknown, buffer: ArrayBuffer, from: number): Ink {
  const header = written as EarlierHeader
  const { n } = header
  let at = from
  const index = new Uint8Array(buffer, at, n)
  at += Math.ceil(n / 4) * 4
  const taken = <T>(there: boolean | undefined, make: (at: number) => T): T | undefined => {
    if (!there) return undefined
    const array = make(at)
    at += 4 * n
    return array
  }
  const size = taken(header.sized, (place) => new Float32Array(buffer, place, n))
  const order = taken(header.ordered, (place) => new Int32Array(buffer, place, n))
  const fid = taken(header.numbered, (place) => new Int32Array(buffer, place, n))
  const mark = Uint16Array.from(index, (position) => (position === UNDRAWN_THEN ? UNDRAWN : position))
  const today = {
    ...(written as InkHeader),
    palette: header.palette.map(markOfToday),
    colours: [],
    wedges: [],
    hollow: 0,
  }
  return byFids(today, { mark, size, order, fid })
}

function markOfToday({ fill, fill_opacity, stroke, stroke_width, stroke_opacity, radius }: EarlierMark): Mark {
  const line = { colour: stroke, width: stroke_width, opacity: stroke_opacity, dash: [], cap: 'round' }
  const strokes = stroke_width > 0 ? [line] : []
  return {
    fill,
    fill_opacity,
    strokes,
    radius,
    texture: null,
    inner: null,
    path: '',
    turn: 0,
    closest: null,
    farthest: null,
    icon: '',
    sign: '',
    sign_colour: '',
  }
}
