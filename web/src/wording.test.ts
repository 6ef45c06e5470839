import { expect, it } from 'vitest'
import { counted, momentOf, sizeOf } from './wording'

it('puts numbers and nouns together', () => {
  expect([counted(0, 'row'), counted(1, 'row'), counted(1200, 'row')]).toEqual(['0 rows', '1 row', '1,200 rows'])
  expect(counted(2, 'class', 'classes')).toBe('2 classes')
})

it('writes moments with the name of the month, so that nobody mistakes one for the day', () => {
  expect(momentOf('2026-05-03T10:00:00')).toBe('3 May 2026, 10:00')
})

it('says how large data are: in rows, or in pixels', () => {
  expect(sizeOf({ rows: 214, raster: null })).toBe('214 rows')
  expect(sizeOf({ rows: 0, raster: { width: 1440, height: 721 } })).toBe('1440 × 721 px')
})
