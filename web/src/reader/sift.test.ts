import { describe, expect, it } from 'vitest'
import { type Columns, decodeColumns, MISSING, nameOf, type NumberField, type WordField } from './columns'
import { among, atEntries, between, counts, during, ends, found, size, spread, together } from './sift'

const about = { title: '', unit: '', decimals: null }
const numbers = (...data: number[]): NumberField => ({
  ...about,
  name: 'n',
  kind: 'number',
  data: Float64Array.from(data),
})
const words = (values: string[], ...data: number[]): WordField => ({
  ...about,
  name: 'w',
  kind: 'words',
  values,
  data: Uint32Array.from(data),
})
const listed = (mask: Uint8Array) => [...mask]

describe('what is taken', () => {
  it('has both ends of a range, and never what is missing', () => {
    expect(listed(between(numbers(1, 2, 3, 4, NaN), 2, 3))).toEqual([0, 1, 1, 0, 0])
    expect(ends(numbers(NaN, 5, -2))).toEqual([-2, 5])
    expect(ends(numbers(NaN))).toBeNull()
  })

  it('has the values that are wanted; the empty one is what is missing', () => {
    const field = words(['bog', 'fen'], 0, 1, MISSING, 0)
    expect(listed(among(field, new Set(['bog'])))).toEqual([1, 0, 0, 1])
    expect(listed(among(field, new Set(['fen', ''])))).toEqual([0, 1, 1, 0])
  })

  it('has what the key does not switch off, and what is at no line of it', () => {
    const columns = { entry: Uint16Array.of(0, 1, 0xffff), entries: ['low', 'high'] } as unknown as Columns
    expect(listed(atEntries(columns, new Set(['low'])))).toEqual([0, 1, 1])
  })

  it('has what begins within a window, or lasts into it; what has no end lasts', () => {
    const from = numbers(0, 10, 20, NaN)
    expect(listed(during(from, null, 10, 20))).toEqual([0, 1, 0, 0])
    expect(listed(during(from, numbers(15, NaN, 30, 40), 12, 20))).toEqual([1, 1, 0, 0])
  })

  it('is taken by all, and counted', () => {
    const mask = together(3, [Uint8Array.of(1, 1, 0), Uint8Array.of(1, 0, 1)])
    expect(listed(mask)).toEqual([1, 0, 0])
    expect(size(together(3, []))).toBe(3)
    expect([...counts(Uint32Array.of(0, 1, 1, MISSING), 2, Uint8Array.of(1, 1, 0, 1))]).toEqual([1, 1, 1])
    expect([...spread(numbers(0, 1, 5, 10, 11), [0, 10], 2, new Uint8Array(5).fill(1))]).toEqual([2, 2])
  })

  it('is found by the beginnings of words, then anywhere, whatever the accents', () => {
    const field = words(['Nether Skara', 'Skara', 'Oskaray', 'Skäran'], 0, 1, 2, 3)
    expect(found(field, 'skara', 9)).toEqual([[1], [3], [0], [2]])
    expect(found(field, 'skara', 1)).toEqual([[1]])
    expect(found(field, ' ', 9)).toEqual([])
    expect(found(numbers(12, 123, 7), '12', 9)).toEqual([[0], [1]])
    expect(found(numbers(12, 7, 12), '12', 9), 'namesakes stand together').toEqual([[0, 2]])
  })
})

describe('columns of an edition', () => {
  it('are read as they were written', () => {
    const header = {
      n: 2,
      entries: ['a'],
      named: 'w',
      fields: [
        { ...about, name: 'w', kind: 'words', values: ['Ard'] },
        { ...about, name: 'n', kind: 'number' },
      ],
    }
    let text = JSON.stringify(header)
    while ((text.length + 4) % 8) text += ' '
    const parts: ArrayBufferView[] = [
      Uint32Array.of(text.length),
      new TextEncoder().encode(text),
      Uint32Array.of(7, 9),
      ...[1, 2, 3, 4].map((k) => Float64Array.of(k, 10 * k)),
      Uint16Array.of(0, 0xffff, 0, 0),
      Uint32Array.of(0, MISSING),
      Float64Array.of(2.5, NaN),
    ]
    const bytes = parts.flatMap(({ buffer, byteOffset, byteLength }) => [
      ...new Uint8Array(buffer, byteOffset, byteLength),
    ])
    const columns = decodeColumns(Uint8Array.from(bytes).buffer)
    expect([...columns.fid]).toEqual([7, 9])
    expect([columns.x[1], columns.lat[1], columns.entry[1]]).toEqual([10, 40, 0xffff])
    expect([nameOf(columns, 0), nameOf(columns, 1)]).toEqual(['Ard', ''])
    expect(columns.fields[1]?.data[0]).toBe(2.5)
  })
})
