import { expect, test } from 'vitest'
import { mapExtent } from './extent'

test('a box round a pole ends where the map ends', () => {
  // Half the equator's length in Web Mercator, as EPSG:3857 has it: 20 037 508.34 m.
  const extent = mapExtent([-180, -90, 180, 83.6])
  expect(extent[1]).toBeCloseTo(-20037508.34, -1)
  expect(extent[0]).toBeCloseTo(-20037508.34, 1)
})

test('a box within the map is taken as it is', () => {
  expect(mapExtent([0, 0, 90, 0])[2]).toBeCloseTo(10018754.17, 1)
})
