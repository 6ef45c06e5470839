// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { get, type Projection } from 'ol/proj'
import { editionTiles } from './editionTiles'

const cut = { base: '/e/abc/3/', size: 512, min_zoom: 8, max_zoom: 12 }

describe('the tiles of an edition', () => {
  it('are asked for where they stand, at the levels that were cut', () => {
    const source = editionTiles(cut).getSource()
    expect(source?.getUrls()).toEqual(['/e/abc/3/map/{z}/{x}/{y}.png'])
    const grid = source?.getTileGrid()
    expect([grid?.getMinZoom(), grid?.getMaxZoom(), grid?.getTileSize(8)]).toEqual([8, 12, 256])
  })

  it('are twice as sharp at 512 px, on the same grid', () => {
    expect(
      editionTiles(cut)
        .getSource()
        ?.getTilePixelSize(8, 1, get('EPSG:3857') as Projection),
    ).toEqual([512, 512])
  })

  it('reach a little over the data, and never over the world', () => {
    const [west = 0, south = 0, east = 0, north = 0] =
      editionTiles({ ...cut, bounds: [-180, -85, 0, 80] }).getExtent() ?? []
    expect(west).toBeCloseTo(-20037508.34, 1)
    expect(east).toBeGreaterThan(0)
    expect(north).toBeLessThan(20037509)
    expect(south).toBeGreaterThan(-20037509)
    expect(editionTiles(cut).getExtent()).toBeUndefined()
  })
})
