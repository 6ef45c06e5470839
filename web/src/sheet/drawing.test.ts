import { describe, expect, it } from 'vitest'
import type { Dataset, Layer } from '../api/types'
import { firstSymbology } from './layerActions'
import { classOf, isRaster } from './mapLayers'
import { labelStyle, rgba, styleOf } from './styles'

const mark = { fill: '#ff8000', fill_opacity: 0.25, stroke: '#000000', stroke_width: 2, stroke_opacity: 0.5, radius: 6 }
const dataset = (kind: string, colour?: string) => ({ kind, raster: colour ? { colour } : null }) as unknown as Dataset

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

  it('set labels at the offsets of the core, in the face of the core', () => {
    const text = labelStyle('Ard', 12, -3, { field: 'name', size: 11, halo: 1.5 }).getText()
    expect([text?.getOffsetX(), text?.getOffsetY(), text?.getTextBaseline()]).toEqual([12, -3, 'alphabetic'])
    expect(text?.getFont()).toContain('11px "Grey Latch Label"')
    expect(text?.getStroke()?.getWidth()).toBe(3)
    expect(labelStyle('Ard', 0, 0, { field: 'name', halo: 0 }).getText()?.getStroke()).toBeNull()
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
