// @vitest-environment happy-dom
import OlMap from 'ol/Map'
import View from 'ol/View'
import TileLayer from 'ol/layer/Tile'
import XYZ from 'ol/source/XYZ'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Layer } from '../api/types'
import { frameFrom, WEB_MERCATOR_FIGURES } from '../painter/frame'
import { beginPictures, type DrawnParts, showPictures } from './mapLayers'
import type { Place } from './useFrame'

const layer = (at: number) =>
  ({ id: 'a', dataset: 'd', filter: '', others: {}, symbology: { kind: 'symbols', breaks: [at] } }) as unknown as Layer

let asked: string[] = []

/** A layer of pictures on a map of 512 × 512 px over the middle of the world, which has been shown before. */
function shown(): { map: OlMap; parts: DrawnParts; place: Place } {
  const frame = frameFrom(WEB_MERCATOR_FIGURES)
  const place = { frame, crs: 'EPSG:3857' } as Place
  const pictures = new TileLayer<XYZ>()
  const parts: DrawnParts = { shapes: null, pictures, from: 0 }
  const map = new OlMap({ view: new View({ center: [0, 0], resolution: 40000 }), layers: [pictures] })
  map.setSize([512, 512])
  showPictures(parts, layer(1), place, 's')
  return { map, parts, place }
}

const sourceOf = ({ pictures }: DrawnParts) => pictures?.getSource() ?? null

describe('pictures of a look that is being changed', () => {
  beforeEach(() => {
    asked = []
    vi.spyOn(XYZ.prototype, 'getTile').mockImplementation(function (this: XYZ, z, x, y) {
      asked.push(`${z}/${x}/${y}`)
      return { load: vi.fn() } as never
    })
  })

  it('are asked for before they are shown, and shown when their ink is there', () => {
    const { map, parts, place } = shown()
    const before = sourceOf(parts)
    beginPictures(parts, layer(2), place, 's', map)
    expect(asked.length).toBeGreaterThan(0)
    expect(sourceOf(parts)).toBe(before)
    const begun = (parts.pictures?.get('begun') as { source: XYZ }).source
    showPictures(parts, layer(2), place, 's')
    expect(sourceOf(parts)).toBe(begun)
    expect(parts.pictures?.get('begun')).toBeUndefined()
  })

  it('are asked for once, and not for a look that is shown already', () => {
    const { map, parts, place } = shown()
    beginPictures(parts, layer(1), place, 's', map)
    expect(asked).toEqual([])
    beginPictures(parts, layer(2), place, 's', map)
    const many = asked.length
    beginPictures(parts, layer(2), place, 's', map)
    expect(asked).toHaveLength(many)
  })

  it('that were overtaken by another look are not shown', () => {
    const { map, parts, place } = shown()
    beginPictures(parts, layer(2), place, 's', map)
    const begun = (parts.pictures?.get('begun') as { source: XYZ }).source
    showPictures(parts, layer(3), place, 's')
    expect(sourceOf(parts)).not.toBe(begun)
    // The same look of other data is another picture.
    beginPictures(parts, layer(3), place, 't', map)
    expect(parts.pictures?.get('begun')).toBeDefined()
  })

  it('are not asked for where the layer is not seen', () => {
    const { map, parts, place } = shown()
    parts.pictures?.setVisible(false)
    beginPictures(parts, layer(2), place, 's', map)
    parts.pictures?.setVisible(true)
    parts.pictures?.setMaxResolution(10)
    beginPictures(parts, layer(2), place, 's', map)
    expect(asked).toEqual([])
  })
})
