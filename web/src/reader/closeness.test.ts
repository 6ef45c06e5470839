import { expect, it } from 'vitest'
import { resolutionFor, roomAround } from './closeness'

const places = (xy: [number, number][]) => ({
  n: xy.length,
  x: Float64Array.from(xy, ([x]) => x),
  y: Float64Array.from(xy, ([, y]) => y),
})

it('has the room to the nearest other feature that lies elsewhere', () => {
  const columns = places([
    [0, 0],
    [0, 0],
    [30, 40],
    [NaN, NaN],
    [300, 0],
  ])
  expect(roomAround(columns, 0)).toBe(50)
  expect(roomAround(columns, 4)).toBeCloseTo(Math.hypot(270, 40))
  expect(roomAround(columns, 3)).toBe(Infinity)
  expect(roomAround(places([[5, 5]]), 0)).toBe(Infinity)
})

it('comes closer where what was found can’t be told from its neighbours, and never further away', () => {
  expect(resolutionFor(6000, 1000, 10)).toBe(100)
  expect(resolutionFor(6, 1000, 10)).toBe(10)
  expect(resolutionFor(6_000_000, 1000, 10)).toBe(1000)
  expect(resolutionFor(Infinity, 1000, 10)).toBe(1000)
})
