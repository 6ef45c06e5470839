import { describe, expect, it } from 'vitest'
import { markOf } from '../api/forTests'
import { decodeInk } from './decodeInk'
import { MERCATOR } from './frame'
import type { Ink } from './ink'
import { pensFromInk as pensIn } from './pens'

const pensFromInk = (ink: Ink) => pensIn(ink, MERCATOR)

const line = { colour: '#000000', width: 1, opacity: 1, dash: [], cap: 'round' }
const mark = markOf('#336699', { fill_opacity: 0.5, strokes: [line] })
const HEADER = { palette: [mark], kind: 'points', colours: [], wedges: [], hollow: 0, slack: 3 }

/** As the server packs it: length, JSON, arrays that begin at multiples of four bytes. */
function packed(header: object, ...arrays: (Uint8Array | Uint16Array | Float32Array | Int32Array)[]): ArrayBuffer {
  const text = new TextEncoder().encode(JSON.stringify(header))
  const length = text.length + ((4 - ((text.length + 4) % 4)) % 4)
  const padded = (array: { byteLength: number }) => Math.ceil(array.byteLength / 4) * 4
  const buffer = new ArrayBuffer(4 + length + arrays.reduce((sum, array) => sum + padded(array), 0))
  new DataView(buffer).setUint32(0, length, true)
  const bytes = new Uint8Array(buffer)
  bytes.fill(32, 4, 4 + length)
  bytes.set(text, 4)
  let at = 4 + length
  for (const array of arrays) {
    bytes.set(new Uint8Array(array.buffer, array.byteOffset, array.byteLength), at)
    at += padded(array)
  }
  return buffer
}
const u16 = (...values: number[]) => Uint16Array.from(values)
const f32 = (...values: number[]) => Float32Array.from(values)
const i32 = (...values: number[]) => Int32Array.from(values)

describe('decodeInk', () => {
  it('reads the columns that there are', () => {
    const ink = decodeInk(packed({ ...HEADER, n: 3, columns: ['mark', 'size'] }, u16(0, 65535, 0), f32(4, 0, 2.5)))
    expect([...ink.mark]).toEqual([0, 65535, 0])
    expect([...(ink.size ?? [])]).toEqual([4, 0, 2.5])
    expect([ink.ramp, ink.angle, ink.opacity, ink.shares, ink.rank]).toEqual([null, null, null, null, null])
  })

  it('turns the drawing order into a place for each row', () => {
    const header = { ...HEADER, n: 3, columns: ['mark', 'size', 'order'] }
    const ink = decodeInk(packed(header, u16(0, 0, 0), f32(2, 9, 4), i32(1, 2, 0)))
    expect([0, 1, 2].map(pensFromInk(ink).rank)).toEqual([2, 0, 1])
  })

  it('puts rows where their numbers are', () => {
    const header = { ...HEADER, n: 2, wedges: ['#aa0000', '#00aa00'], columns: ['mark', 'shares', 'fid'] }
    const ink = decodeInk(packed(header, u16(0, 0), f32(1, 0, 0.25, 0.75), i32(1, 3)))
    expect([...ink.mark]).toEqual([65535, 0, 65535, 0])
    expect([...(pensFromInk(ink).wedges(3)?.shares ?? [])]).toEqual([0.25, 0.75])
    expect(pensFromInk(ink).wedges(2)).toBeNull()
  })

  it('reads the ink of editions that were published with a byte for every feature', () => {
    const then = { fill: '#336699', fill_opacity: 1, stroke: '#111111', stroke_width: 2, stroke_opacity: 1, radius: 4 }
    const header = { n: 2, sized: true, ordered: true, numbered: true, palette: [then], kind: 'points', slack: 3 }
    const ink = decodeInk(packed(header, Uint8Array.from([0, 255]), f32(5, 6), i32(1, 0), i32(0, 2)))
    const pens = pensFromInk(ink)
    expect([0, 1, 2].map((row) => pens.of(row)?.strokes[0]?.width)).toEqual([2, undefined, undefined])
    expect([pens.radius(0), pens.rank(0), pens.rank(2)]).toEqual([5, 1, 0])
  })
})

describe('sizes on the ground', () => {
  const header = { ...HEADER, n: 3, most: 200, columns: ['mark', 'size', 'ground'] }
  const columns = [u16(0, 0, 0), f32(4, 4, 9), f32(1000, 500, NaN)] as const

  it('are px at each scale, to an eighth, and never more than tiles hold', () => {
    const { at } = pensFromInk(decodeInk(packed(header, ...columns)))
    const radii = (resolution: number) => [0, 1, 2].map((row) => at?.(resolution).radius(row))
    expect(radii(100)).toEqual([10, 5, 9])
    expect(radii(3)).toEqual([200, 166.625, 9])
    expect([at?.(100).reach, at?.(1).reach]).toEqual([10.5, 200.5])
  })

  it('keep brushes and ranks from one scale to the next', () => {
    const pens = pensFromInk(decodeInk(packed(header, ...columns)))
    expect(pens.at?.(10).of(0)).toBe(pens.at?.(20).of(0))
    expect(pens.at?.(10).rank).toBe(pens.rank)
  })

  it('are widths of lines, over which a casing stands out by the same px', () => {
    const cased = markOf('#336699', { strokes: [{ ...line, width: 5 }, line] })
    const lines = { ...header, kind: 'lines', most: 60, palette: [cased] }
    const { at } = pensFromInk(decodeInk(packed(lines, ...columns)))
    expect(
      at?.(100)
        .of(0)
        ?.strokes.map(({ width }) => width),
    ).toEqual([14, 10])
    expect(at?.(100).reach).toBe(7)
  })
})

describe('pensFromInk', () => {
  it('has none at scales at which a mark is not seen', () => {
    const ranged = {
      ...HEADER,
      palette: [mark, { ...mark, closest: 10_000, farthest: 50_000 }],
      n: 2,
      columns: ['mark'],
    }
    const pens = pensFromInk(decodeInk(packed(ranged, u16(0, 1))))
    const seen = (scale: number) => [0, 1].map((row) => pens.at?.(MERCATOR.resolutionAt(scale)).of(row) != null)
    expect([seen(9_000), seen(10_000), seen(50_000), seen(51_000)]).toEqual([
      [true, false],
      [true, true],
      [true, true],
      [true, false],
    ])
    expect(MERCATOR.scale(MERCATOR.resolution(0))).toBeCloseTo(559_082_264.03, 1)
    const always = pensFromInk(decodeInk(packed({ ...ranged, palette: [mark, mark] }, u16(0, 1))))
    expect(always.at).toBeUndefined()
  })

  it('has none for rows without a mark, and for rows that it does not know', () => {
    const pens = pensFromInk(decodeInk(packed({ ...HEADER, kind: 'areas', n: 2, columns: ['mark'] }, u16(0, 65535))))
    expect(pens.of(0)?.fill).toBe('rgba(51,102,153,0.5)')
    expect([pens.of(1), pens.of(7)]).toEqual([null, null])
  })

  it('takes the size of a symbol from its row, or from its mark', () => {
    const header = { ...HEADER, n: 2, columns: ['mark'] }
    const sized = { ...header, columns: ['mark', 'size'] }
    expect(pensFromInk(decodeInk(packed(sized, u16(0, 0), f32(2.5, 7)))).radius(1)).toBe(7)
    expect(pensFromInk(decodeInk(packed(header, u16(0, 0)))).radius(1)).toBe(4)
  })

  it('colours rows along a ramp, and lets some be fainter', () => {
    const header = {
      ...HEADER,
      kind: 'areas',
      n: 3,
      colours: ['#000000', '#ffffff'],
      columns: ['mark', 'ramp', 'opacity'],
    }
    const pens = pensFromInk(decodeInk(packed(header, u16(0, 0, 0), u16(1, 65535, 0), f32(1, 1, 0.5))))
    expect([0, 1, 2].map((row) => pens.of(row)?.fill)).toEqual([
      'rgba(255,255,255,0.5)',
      'rgba(51,102,153,0.5)',
      'rgba(0,0,0,0.25)',
    ])
  })

  it('gives lines their own colour and width, and their casing as much more as before', () => {
    const strokes = [{ ...line, width: 3 }, line]
    const header = {
      ...HEADER, kind: 'lines', palette: [markOf('#336699', { strokes })], n: 1, colours: ['#ff0000'], columns: ['mark', 'ramp', 'size'],
    } // prettier-ignore
    const brush = pensFromInk(decodeInk(packed(header, u16(0), u16(0), f32(4)))).of(0)
    expect(brush?.fill).toBeNull()
    expect(brush?.strokes.map(({ colour, width }) => [colour, width])).toEqual([
      ['rgba(0,0,0,1)', 6],
      ['rgba(255,0,0,1)', 4],
    ])
  })
})
