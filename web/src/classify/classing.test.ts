import { describe, expect, it } from 'vitest'
import { addBreak, moveBreak, roundFor } from './classing'

describe('moveBreak', () => {
  it('stays between its neighbours, so that no class is lost', () => {
    expect(moveBreak([10, 20, 30], 1, 25.123456, 0)).toEqual([10, 25.12, 30])
    expect(moveBreak([10, 20, 30], 1, 99, 0)[1]).toBeLessThan(30)
    expect(moveBreak([10, 20, 30], 1, -5, 0)[1]).toBeGreaterThan(10)
    expect(moveBreak([10, 20, 30], 0, -5, 2)[0]).toBeGreaterThan(2)
  })
})

describe('addBreak', () => {
  it('keeps the order', () => {
    expect(addBreak([10, 30], 20)).toEqual([10, 20, 30])
  })
})

describe('roundFor', () => {
  it('keeps three more figures than the width has', () => {
    expect(roundFor(1234.56789, 100)).toBe(1234.6)
    expect(roundFor(0.00123456, 0.001)).toBe(0.001235)
    expect(roundFor(5, 0)).toBe(5)
  })
})
