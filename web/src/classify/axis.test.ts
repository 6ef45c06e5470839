import { describe, expect, it } from 'vitest'
import { apart, axisOf, crowded } from './axis'

describe('an axis', () => {
  it('has values where they are in proportion, and back', () => {
    const axis = axisOf(10, 20, 14, 400, false)
    expect([axis.x(10), axis.x(15), axis.x(20)]).toEqual([14, 214, 414])
    expect(axis.valueAt(axis.x(13.7))).toBeCloseTo(13.7)
  })

  it('has them by their logarithms: as far from 1 to 10 as from 10 to 100', () => {
    const axis = axisOf(1, 100, 0, 200, true)
    expect([axis.x(1), axis.x(10), axis.x(100)].map(Math.round)).toEqual([0, 100, 200])
    expect(axis.valueAt(150)).toBeCloseTo(31.62, 2)
    expect(axis.x(0)).toBeLessThan(0)
    expect(axisOf(0, 100, 0, 200, true).x(50)).toBe(100)
  })

  it('puts a single value in its middle', () => {
    expect(axisOf(5, 5, 10, 100, false).x(5)).toBe(60)
  })
})

it('tells limits that lie on one another from those that can be taken hold of', () => {
  // How many people live in a province's towns, in thirds of the towns; how many days were warm.
  expect(crowded([2, 2780, 10_045, 2_385_421])).toBe(true)
  expect(crowded([3, 131, 175, 365])).toBe(false)
  expect(crowded([-5, 0, 1, 9000])).toBe(false)
})

it('numbers that would run into one another are left out', () => {
  const words = [10, 40, 60, 62, 110].map((at) => ({ at, wide: at === 40 ? 60 : 40 }))
  expect([...apart(words)]).toEqual([0, 2, 4])
  expect([...apart([])]).toEqual([])
})
