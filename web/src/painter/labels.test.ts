import { describe, expect, it } from 'vitest'
import { keptApart, type PlacedLabel } from './labels'

const label = (x: number, y: number, b?: [number, number, number, number]): PlacedLabel => ({
  at: [x, y],
  set: b ? { p: [], b } : { p: [] },
  stretch: 1,
})

describe('labels farther off than the level for which they were placed', () => {
  it('give way to those before them', () => {
    const first = label(0, 0, [0, 0, 50, 10])
    const under = label(30, 5, [0, 0, 50, 10])
    const beside = label(60, 5, [0, 0, 50, 10])
    expect(keptApart([first, under, beside], 1)).toEqual([first, beside])
  })

  it('cover more pixels where a screen is finer', () => {
    const labels = [label(0, 0, [0, 0, 50, 10]), label(60, 0, [0, 0, 50, 10])]
    expect(keptApart(labels, 1)).toHaveLength(2)
    expect(keptApart(labels, 2)).toHaveLength(1)
  })

  it('are kept where they do not say what they cover, as those of earlier editions', () => {
    expect(keptApart([label(0, 0), label(0, 0)], 1)).toHaveLength(2)
  })
})
