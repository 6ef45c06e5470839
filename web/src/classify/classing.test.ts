import { beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { Classing, Layer } from '../api/types'
import { queries } from '../api/queries'
import { startingQuery } from '../sheet/queries'
import { begunParts, classedLayer } from '../api/forTests'
import { whole } from '../api/whole'
import { layerOf, useSheet } from '../sheet/store'
import {
  addBreak,
  chooseDivisor,
  chooseField,
  classingOf,
  moveBreak,
  inSteps,
  setBreaks,
  stepAt,
  stepClasses,
  taken,
} from './classing'

const classed = (classing: Partial<Classing>) => classedLayer('a', classing)
beforeAll(() => void queries.setQueryData(startingQuery.queryKey, begunParts()))

const begin = (first: Layer) => useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [first] }))
const classing = () => classingOf(layerOf('a'))

describe('the numbers that are classed', () => {
  beforeEach(() => begin(classed({ field: 'v', method: 'manual', breaks: [1, 2, 3], classes: 3 })))

  it('leave breaks set by hand behind, but not how many there were', () => {
    chooseField('a', 'w')
    expect(classing()).toMatchObject({ field: 'w', method: 'natural-breaks', breaks: [], classes: 3 })
  })

  it('do so too when they are divided by something else', () => {
    chooseDivisor('a', { by: 'area' })
    expect(classing()).toMatchObject({ method: 'natural-breaks', normalise: { by: 'area' } })
  })

  it('keep a method that computes', () => {
    begin(classed({ field: 'v', method: 'quantile', classes: 4 }))
    chooseField('a', 'w')
    expect(classing()).toMatchObject({ field: 'w', method: 'quantile', classes: 4 })
  })
})

describe('classes', () => {
  it('are one at least, and no more than the core makes', () => {
    for (const [classes, by] of [
      [1, -1],
      [64, 1],
    ] as const) {
      begin(classed({ field: 'v', method: 'quantile', classes }))
      stepClasses(layerOf('a'), by)
      expect(classing()?.classes).toBe(classes)
    }
  })

  it('by hand rise, without twins', () => {
    begin(classed({ field: 'v', method: 'quantile', classes: 2 }))
    setBreaks('a', [3, 1, 3, 2])
    expect(classing()).toMatchObject({ method: 'manual', breaks: [1, 2, 3], classes: 3 })
  })
})

describe('moveBreak', () => {
  it('stays between its neighbours, so that no class is lost', () => {
    expect(moveBreak([10, 20, 30], 1, 25.123456, 0, 0.01)).toEqual([10, 25.12, 30])
    expect(moveBreak([10, 20, 30], 1, 99, 0, 0.1)).toEqual([10, 29.9, 30])
    expect(moveBreak([10, 20, 30], 1, -5, 0, 0.1)).toEqual([10, 10.1, 30])
    expect(moveBreak([10, 20, 30], 0, -5, 2, 0.1)).toEqual([2.1, 20, 30])
  })

  it('leaves it where it is if there is no step between them', () => {
    expect(moveBreak([10, 10.4, 11], 1, 10.8, 0, 1)).toEqual([10, 10.4, 11])
  })
})

describe('addBreak', () => {
  it('keeps the order', () => {
    expect(addBreak([10, 30], 20)).toEqual([10, 20, 30])
  })
})

describe('what a hand takes', () => {
  const bins = { edges: [1, 10, 100, 1000], steps: [0.1, 1, 10] }

  it('has as few figures as the step, and is as it is where there is none', () => {
    expect(inSteps(1234.56789, 0.1)).toBe(1234.6)
    expect(inSteps(0.00123456, 0.000001)).toBe(0.001235)
    expect(inSteps(0.3000000004, 0.1)).toBe(0.3)
    expect(inSteps(5.5555, 0)).toBe(5.5555)
  })

  it('goes by the step of its bin; beyond all, of the nearest', () => {
    expect([0, 3, 10, 99, 500, 1000, 2000].map((value) => stepAt(bins, value))).toEqual([0.1, 0.1, 1, 1, 10, 10, 10])
    expect(stepAt({ edges: [], steps: [] }, 3)).toBe(0)
    expect(taken(bins as never, 55.5)).toBe(56)
  })
})
