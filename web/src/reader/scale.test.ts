import { expect, it } from 'vitest'
import { metresAt } from './scale'

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
