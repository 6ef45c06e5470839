import { describe, expect, it } from 'vitest'
import { decodeInk } from './ink'
import { pensFromInk } from './pens'

const mark = { fill: '#336699', fill_opacity: 0.5, stroke: '#000000', stroke_width: 1, stroke_opacity: 1, radius: 4 }

function packed(header: object, index: number[], radius: number[] = [], order: number[] = []): ArrayBuffer {
  const text = new TextEncoder().encode(JSON.stringify(header))
  const length = text.length + ((4 - ((text.length + 4) % 4)) % 4)
  const padded = index.length + ((4 - (index.length % 4)) % 4)
  const buffer = new ArrayBuffer(4 + length + padded + (radius.length + order.length) * 4)
  new DataView(buffer).setUint32(0, length, true)
  new Uint8Array(buffer).fill(32, 4, 4 + length)
  new Uint8Array(buffer).set(text, 4)
  new Uint8Array(buffer).set(index, 4 + length)
  new Float32Array(buffer, 4 + length + padded, radius.length).set(radius)
  new Int32Array(buffer, 4 + length + padded + 4 * radius.length).set(order)
  return buffer
}

describe('decodeInk', () => {
  it('reads header, positions and radii', () => {
    const ink = decodeInk(packed({ n: 3, sized: true, palette: [mark], kind: 'points' }, [0, 255, 0], [4, 0, 2.5]))
    expect([...ink.index]).toEqual([0, 255, 0])
    expect([...(ink.radius ?? [])]).toEqual([4, 0, 2.5])
  })

  it('turns the drawing order into a place for each row', () => {
    const header = { n: 3, sized: true, ordered: true, palette: [mark], kind: 'points' }
    const ink = decodeInk(packed(header, [0, 0, 0], [2, 9, 4], [1, 2, 0]))
    expect([0, 1, 2].map(pensFromInk(ink).rank)).toEqual([2, 0, 1])
  })

  it('has no radii where marks alone give the size', () => {
    expect(decodeInk(packed({ n: 1, sized: false, palette: [mark], kind: 'areas' }, [0])).radius).toBeNull()
  })
})

describe('pensFromInk', () => {
  it('has none for rows without a mark, and for rows that it does not know', () => {
    const pens = pensFromInk(decodeInk(packed({ n: 2, sized: false, palette: [mark], kind: 'areas' }, [0, 255])))
    expect(pens.of(0).map((pen) => pen.fill)).toEqual(['rgba(51,102,153,0.5)'])
    expect(pens.of(1)).toEqual([])
    expect(pens.of(7)).toEqual([])
  })

  it('takes the size of a symbol from its row, or from its mark', () => {
    const header = { n: 2, palette: [mark], kind: 'points' }
    expect(pensFromInk(decodeInk(packed({ ...header, sized: true }, [0, 0], [2.5, 7]))).radius(1)).toBe(7)
    expect(pensFromInk(decodeInk(packed({ ...header, sized: false }, [0, 0]))).radius(1)).toBe(4)
  })
})
