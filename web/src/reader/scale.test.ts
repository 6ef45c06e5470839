import { expect, it } from 'vitest'
import { metresAt, northAt } from './scale'

const edition = { box: [0, 0, 90, 90], scales: [[1, 2, null], [4, 5, 6], [7, 8, 9]] } // prettier-ignore

it('is that of the nearest place that is known', () => {
  expect(metresAt(edition, [10, 80])).toBe(1)
  expect(metresAt(edition, [45, 45])).toBe(5)
  expect(metresAt(edition, [500, -500])).toBe(9)
})

it('is not known where there is no ground, or nothing was measured', () => {
  expect(metresAt(edition, [80, 80])).toBeNull()
  expect(metresAt({ ...edition, scales: null }, [0, 0])).toBeNull()
})

const arrow = { light: '', dark: '', letter: '', reach: 21 }
const north = { arrow, turns: [[-10, 0, 10], [-20, 0, 20], [170, null, -170]] } // prettier-ignore

it('has north between the places that are known, whichever way it turns', () => {
  expect(northAt({ box: edition.box, north }, [15, 75])).toBeCloseTo(-10)
  expect(northAt({ box: edition.box, north }, [30, 75])).toBeCloseTo(-5, 1)
  // Beyond the outermost they go on as they are.
  expect(northAt({ box: edition.box, north }, [-900, 75])).toBeCloseTo(-10)
  const behind = { arrow, turns: [[170, -170], [170, -170]] } // prettier-ignore
  expect(Math.abs(northAt({ box: edition.box, north: behind }, [45, 45]) ?? 0)).toBeCloseTo(180)
})

it('has none beside a pole, and up where north is up everywhere', () => {
  expect(northAt({ box: edition.box, north }, [40, 20])).toBeNull()
  expect(northAt({ box: edition.box, north: { arrow, turns: [] } }, [40, 20])).toBe(0)
  expect(northAt({ box: edition.box, north: null }, [40, 20])).toBe(0)
})
