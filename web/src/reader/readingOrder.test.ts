import { expect, it } from 'vitest'
import { inReadingOrder } from './readingOrder'

it('goes line by line from left to right, and no further than is bearable', () => {
  const [a, b, c] = [
    { x: 300, y: 12 },
    { x: 20, y: 31 },
    { x: 5, y: 400 },
  ]
  expect(inReadingOrder([c, a, b], 480)).toEqual([b, a, c])
  expect(
    inReadingOrder(
      Array.from({ length: 900 }, (_, x) => ({ x, y: 1 })),
      480,
    ),
  ).toHaveLength(500)
})
