import { describe, expect, it } from 'vitest'
import { circleAround, measured, metresBetween, metresTo } from './geodesic'
import { between } from './ground'

describe('distances on the ground', () => {
  it('are those of the ellipsoid: the example of the GeographicLib documentation, Wellington to Salamanca', () => {
    expect(metresBetween([174.81, -41.32], [-5.5, 40.96])).toBeCloseTo(19959679.267, 2)
  })

  it('make a circle whose places are all as far away, also over the 180th meridian', () => {
    for (const middle of [
      [-27, 52],
      [179.9, -17],
      [0, 89],
    ])
      for (const place of circleAround(middle, 25_000, 24)) expect(metresBetween(middle, place)).toBeCloseTo(25_000, 3)
    expect(metresTo([0, 0], Float64Array.of(0, NaN), Float64Array.of(0, 1))).toEqual(Float64Array.of(0, NaN))
  })

  it('add up along places, and enclose an area: a degree at the equator, 12,308.778 km² (from memory of tables)', () => {
    const square = measured([
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
    ])
    expect(square.area / 1e6).toBeCloseTo(12_308.778, 1)
    expect(measured([[0, 0]]).length).toBe(0)
  })
})

describe('degrees between the places of a table', () => {
  /** A plate carrée turned by 30 degrees, which lies askew on its box, over the 180th meridian. */
  const box = [0, 0, 4, 4]
  const n = 9
  const true_ = (x: number, y: number) => {
    const [u, v] = [0.8 * x - 0.3 * y, 0.3 * x + 0.8 * y]
    const lon = 179 + u
    return [lon > 180 ? lon - 360 : lon, 10 + v]
  }
  const table = Array.from({ length: n * n }, (_, k) =>
    true_(((k % n) * 4) / (n - 1), 4 - (Math.floor(k / n) * 4) / (n - 1)),
  )
  const ground = between(table, box)

  it('are found there and back', () => {
    for (const [x, y] of [
      [0.7, 3.1],
      [2, 1],
      [3.9, 0.1],
    ] as const) {
      const lonlat = ground.lonlat([x, y])
      expect(lonlat?.[0]).toBeCloseTo(true_(x, y)[0] as number, 6)
      expect(lonlat?.[1]).toBeCloseTo(true_(x, y)[1] as number, 6)
      const back = ground.place(lonlat ?? [])
      expect(back?.[0]).toBeCloseTo(x, 5)
      expect(back?.[1]).toBeCloseTo(y, 5)
    }
  })

  it('are nowhere far beyond the box, and where there is no ground', () => {
    expect(ground.lonlat([40, 40])).toBeNull()
    expect(
      between(
        Array.from({ length: 4 }, () => [null, null]),
        box,
      ).lonlat([1, 1]),
    ).toBeNull()
  })
})
