import { describe, expect, it } from 'vitest'
import type { Dataset } from '../api/types'
import { columnsOf, moved } from './columns'
import { asCells, asText, holds, placed } from './ranges'

describe('cells on the clipboard', () => {
  it('are tabs and lines, with quotes where they are needed', () => {
    const rows = [
      ['Ard', 1.5, null],
      ['tab\there', true, 'says "so"'],
      ['two\nlines', -3, ''],
      ['2017-01-01T00:00:00', false, '2017-01-01T06:00:42'],
    ]
    const text = asText(rows)
    expect(text.split('\n')[0]).toBe('Ard\t1.5\t')
    expect(asCells(text)).toEqual([
      ['Ard', '1.5', ''],
      ['tab\there', 'yes', 'says "so"'],
      ['two\nlines', '-3', ''],
      ['2017-01-01', 'no', '2017-01-01T06:00:42'],
    ])
  })

  it('come from other programs with carriage returns and a last line', () => {
    expect(asCells('a\tb\r\nc\t\r\n')).toEqual([
      ['a', 'b'],
      ['c', ''],
    ])
    expect(asCells('')).toEqual([['']])
    expect(asCells('5" pipe')).toEqual([['5" pipe']])
  })

  it('go to a corner, or one fills all that is selected', () => {
    const range = { row: 4, column: 2, toRow: 3, toColumn: 3 }
    expect(placed(range, [['x']]).map(({ row, column }) => [row, column])).toEqual([
      [3, 2],
      [3, 3],
      [4, 2],
      [4, 3],
    ])
    expect(placed(range, [['a', 'b'], ['c']])).toEqual([
      { row: 3, column: 2, text: 'a' },
      { row: 3, column: 3, text: 'b' },
      { row: 4, column: 2, text: 'c' },
    ])
    expect(holds(range, 4, 3)).toBe(true)
    expect(holds(range, 5, 3)).toBe(false)
  })
})

describe('columns', () => {
  const fields = ['a', 'b', 'c', 'd'].map((name) => ({ name })) as Dataset['fields']
  const names = (layout: Parameters<typeof columnsOf>[1]) =>
    columnsOf(fields, layout).map(({ field, at }) => field.name + at)

  it('stand as they were put; a new field comes last', () => {
    expect(names({ order: ['c', 'a'], hidden: [], frozen: 0 })).toEqual(['c2', 'a0', 'b1', 'd3'])
    expect(names({ order: [], hidden: ['b', 'gone'], frozen: 0 })).toEqual(['a0', 'c2', 'd3'])
  })

  it('are moved before another, or to the end', () => {
    expect(moved(['a', 'b', 'c'], 'c', 'a')).toEqual(['c', 'a', 'b'])
    expect(moved(['a', 'b', 'c'], 'a', null)).toEqual(['b', 'c', 'a'])
    expect(moved(['a', 'b', 'c'], 'b', 'b')).toEqual(['a', 'b', 'c'])
  })
})
