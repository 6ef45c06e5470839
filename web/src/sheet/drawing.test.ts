import { describe, expect, it } from 'vitest'
import type Style from 'ol/style/Style'
import type { Dataset, Layer } from '../api/types'
import { firstSymbology } from './layerActions'
import { classOf, isRaster } from './mapLayers'
import { labelStyle, rgba, styleOf } from './styles'

const mark = { fill: '#ff8000', fill_opacity: 0.25, stroke: '#000000', stroke_width: 2, stroke_opacity: 0.5, radius: 6 }
const dataset = (kind: string, colour?: string) => ({ kind, raster: colour ? { colour } : null }) as unknown as Dataset

/** What a style draws by itself at a place: calls and settings of the canvas, in order. */
function draw(style: Style, place: number[] | number[][], pixelRatio = 1): unknown[][] {
  const told: unknown[][] = []
  const context = new Proxy({} as CanvasRenderingContext2D, {
    get:
      (_, what) =>
      (...given: unknown[]) =>
        told.push([what, ...given]),
    set: (_, what, value) => told.push([what, value]) > 0,
  })
  style.getRenderer()?.(place, { context, pixelRatio } as never)
  return told
}

describe('styles', () => {
  it('take colours with their opacity', () => {
    expect(rgba('#ff8000', 0.25)).toBe('rgba(255,128,0,0.25)')
  })

  it('draw areas with fill and stroke, lines with a stroke alone', () => {
    const area = styleOf(mark, 'areas')
    expect([area.getFill()?.getColor(), area.getStroke()?.getWidth()]).toEqual(['rgba(255,128,0,0.25)', 2])
    expect(styleOf(mark, 'lines').getFill()).toBeNull()
  })

  it('draw large points below small ones', () => {
    expect(styleOf(mark, 'points', 9).getZIndex()).toBeLessThan(styleOf(mark, 'points', 3).getZIndex() ?? 0)
  })

  it('leave out strokes without width and fills without opacity', () => {
    const bare = styleOf({ ...mark, stroke_width: 0, fill_opacity: 0 }, 'areas')
    expect([bare.getFill(), bare.getStroke()]).toEqual([null, null])
  })

  it('draw a symbol at its very place, at the sharpness of the screen', () => {
    const drawn = draw(styleOf(mark, 'points', 4), [10.25, 20.75], 2)
    expect(drawn).toContainEqual(['arc', 10.25, 20.75, 8, 0, 2 * Math.PI])
    expect(drawn).toContainEqual(['lineWidth', 4])
    expect(drawn.map(([what]) => what).filter((what) => what === 'fill' || what === 'stroke')).toEqual([
      'fill',
      'stroke',
    ])
  })

  it('draw every one of several points', () => {
    const places = [
      [1, 2],
      [3, 4],
    ]
    expect(draw(styleOf(mark, 'points'), places).filter(([what]) => what === 'arc')).toHaveLength(2)
  })

  it('set labels at the offsets of the core, in the face of the core, the halo under the letters', () => {
    const drawn = draw(labelStyle('Ard', 12, -3, { field: 'name', size: 11, halo: 1.5 }), [100, 50], 2)
    expect(drawn).toContainEqual(['translate', 124, 44])
    expect(drawn).toContainEqual(['font', '500 11px "Grey Latch Label"'])
    expect(drawn).toContainEqual(['textBaseline', 'alphabetic'])
    expect(drawn).toContainEqual(['lineWidth', 3])
    expect(drawn.filter(([what]) => String(what).endsWith('Text')).map(([what]) => what)).toEqual([
      'strokeText',
      'fillText',
    ])
    const bare = draw(labelStyle('Ard', 0, 0, { field: 'name', halo: 0 }), [0, 0])
    expect(bare.some(([what]) => what === 'strokeText')).toBe(false)
  })
})

describe('layers', () => {
  it('begin with a look that suits their data', () => {
    expect(firstSymbology(dataset('raster', 'one band')).kind).toBe('raster-ramp')
    expect(firstSymbology(dataset('raster', 'rgb')).kind).toBe('picture')
    for (const kind of ['areas', 'lines', 'points']) expect(firstSymbology(dataset(kind)).kind).toBe('single')
  })

  it('are rasters by their symbology', () => {
    const layer = (kind: string) => ({ symbology: { kind } }) as unknown as Layer
    expect(['hillshade', 'raster-ramp', 'picture', 'classed', 'single'].map((kind) => isRaster(layer(kind)))).toEqual([
      true,
      true,
      true,
      false,
      false,
    ])
  })

  it('have a canvas of their own, which is what blends', () => {
    expect(classOf('a')).not.toBe(classOf('b'))
  })
})
