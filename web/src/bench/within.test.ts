import { describe, expect, it } from 'vitest'
import { limitsInWords, within, withinOrNone } from './within'

describe('what may be typed', () => {
  const size = { least: 6, most: 72 }

  it('is taken to the nearest number that may be', () => {
    expect([5, 6, 30.5, 72, 1000].map((typed) => within(size, typed))).toEqual([6, 6, 30.5, 72, 72])
    expect(within({ least: 1, most: 64, whole: true }, 3.6)).toBe(4)
    expect(within({}, -3)).toBe(-3)
  })

  it('is nothing where no number is the nearest', () => {
    expect([0, -1].map((typed) => within({ above: 0, most: 10 }, typed))).toEqual([null, null])
    expect(within({ above: 0, most: 10 }, 11)).toBe(10)
  })

  it('stands for none where zero does', () => {
    expect([0, -2, 3, 9].map((typed) => withinOrNone({ least: 4, most: 8 }, typed))).toEqual([null, null, 4, 8])
  })

  it('is said', () => {
    expect(limitsInWords(size)).toBe('6 to 72')
    expect(limitsInWords({ above: 0 })).toBe('more than 0')
    expect(limitsInWords({ above: 0, most: 1_000_000 })).toBe('more than 0, up to 1,000,000')
    expect(limitsInWords({ least: 1 })).toBe('1 or more')
    expect(limitsInWords({})).toBe('')
  })
})
