// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import View from 'ol/View'
import { createXYZ } from 'ol/tilegrid'
import { frameFrom, levelOf, MERCATOR, MERCATOR_PLACES, viewOptions, WEB_MERCATOR_FIGURES } from './frame'

const CONE = frameFrom({
  name: 'a cone', matrix_set: 'EPSG2154Quad', left: -39_375_016, top: 48_008_727, side: 40_075_016, columns: 2, rows: 2,
  metres: 1, degrees: false, round: false, equal_area: false,
}) // prettier-ignore

describe('a frame', () => {
  it('has the tiles of the web where it is that of the web', () => {
    const theirs = createXYZ({ tileSize: 256, maxZoom: 12 })
    for (const tile of [
      [0, 0, 0],
      [5, 9, 10],
      [12, 3423, 1763],
    ])
      expect(MERCATOR.grid(256, { to: 12 }).getTileCoordExtent(tile)).toEqual(theirs.getTileCoordExtent(tile))
    expect(MERCATOR.projection.getCode()).toBe('EPSG:3857')
  })

  it('has several tiles at level 0 where its projection is wider than the equator', () => {
    const grid = CONE.grid(512, { to: 3 })
    expect(grid.getTileCoordExtent([0, 1, 1])).toEqual([700_000, 48_008_727 - 80_150_032, 40_775_016, 7_933_711])
    expect(grid.getFullTileRange(0)?.getSize()).toEqual([2, 2])
  })

  it('counts levels by the ground on a px, whatever its size', () => {
    expect(MERCATOR.level(MERCATOR.resolution(7.25))).toBeCloseTo(7.25)
    expect(CONE.level(40_075_016 / 256)).toBe(0)
    const view = new View({ ...viewOptions(CONE), center: [0, 0], resolution: CONE.resolution(6) })
    expect(levelOf(view, CONE)).toBeCloseTo(6)
    expect(levelOf(new View({ ...viewOptions(MERCATOR), center: [0, 0], zoom: 6 }), MERCATOR)).toBeCloseTo(6)
  })

  it('shows all of itself, and says how long the ground is', () => {
    expect(viewOptions(CONE).maxResolution).toBeCloseTo((2 * 40_075_016) / 256)
    CONE.metres = 0.5
    expect(CONE.projection.getPointResolutionFunc()?.(100, [0, 0])).toBe(50)
  })

  it('finds places of the web without asking', async () => {
    const there = await MERCATOR_PLACES.to(-27, 52)
    const back = await MERCATOR_PLACES.from(...(there ?? [0, 0]))
    expect(back?.lon).toBeCloseTo(-27)
    expect(back?.lat).toBeCloseTo(52)
    expect(back?.metres).toBeCloseTo(Math.cos((52 * Math.PI) / 180))
    expect(WEB_MERCATOR_FIGURES.round).toBe(true)
  })
})
