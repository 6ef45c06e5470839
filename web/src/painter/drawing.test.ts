import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import RenderFeature from 'ol/render/Feature'
import type { Layer } from '../api/types'
import { isRaster } from '../sheet/mapLayers'
import { classOf } from './blending'
import { drawLabels, type LabelLook, type LabelSet } from './labels'
import { markOf } from '../api/forTests'
import { brushOf, rgba } from './brush'
import { drawPaths, drawSymbols, type Piece, symbolAt, symbolsOf } from './drawing'
import { NO_PENS, type Pens } from './pens'
import { type Shape, shapeOf } from './shapes'

const line = { colour: '#000000', width: 2, opacity: 0.5, dash: [], cap: 'round' }
const mark = markOf('#ff8000', { fill_opacity: 0.25, strokes: [line], radius: 6 })

/** A context that tells what it was asked to do and which settings it was given, in order. */
function listening(): { context: CanvasRenderingContext2D; log: unknown[][] } {
  const log: unknown[][] = []
  const context = new Proxy({ canvas: { width: 100, height: 100 } } as unknown as CanvasRenderingContext2D, {
    get: (target, what) =>
      what === 'canvas'
        ? target.canvas
        : (...rest: unknown[]) => {
            log.push([what, ...rest])
          },
    set: (_, what, value) => log.push([what, value]) > 0,
  })
  return { context, log }
}

class ListeningPath {
  log: unknown[][] = []
  moveTo = (...at: number[]) => this.log.push(['moveTo', ...at])
  lineTo = (...at: number[]) => this.log.push(['lineTo', ...at])
  closePath = () => this.log.push(['closePath'])
  arc = (...at: number[]) => this.log.push(['arc', ...at])
}
beforeAll(() => void vi.stubGlobal('Path2D', ListeningPath))
afterAll(() => void vi.unstubAllGlobals())

const feature = (type: string, flat: number[], ends: number[], row = 0) =>
  new RenderFeature(type as never, flat, ends, 2, {}, row)
const logOf = (path: Path2D | null) => (path as unknown as ListeningPath | null)?.log
const square = (row: number, x = 0) =>
  shapeOf(feature('Polygon', [x, 0, x + 10, 0, x + 10, -10, x, -10, x, 0], [10], row), 0, 0, 1)
const point = (row: number, x: number, y: number) => shapeOf(feature('Point', [x, -y], [], row), 0, 0, 1)
const piece = (shapes: Piece['shapes'], more: Partial<Piece> = {}): Piece => ({
  shapes,
  x: 0,
  y: 0,
  scale: 1,
  rects: [[0, 0, 100, 100]],
  ...more,
})
const calls = (all: unknown[][], ...names: string[]) => all.filter(([what]) => names.includes(String(what)))

describe('shapes', () => {
  it('lie in pixels of their tile, downwards from its corner', () => {
    const shape = shapeOf(feature('LineString', [1000, 2000, 1020, 1960], [4]), 1000, 2000, 4)
    expect(logOf(shape.outline)).toEqual([
      ['moveTo', 0, 0],
      ['lineTo', 5, 10],
    ])
    expect(shape.box).toEqual([0, 0, 5, 10])
  })

  it('close every ring of an area, holes too', () => {
    const ring = (a: number, b: number) => [a, -a, b, -a, b, -b, a, -b, a, -a]
    const shape = shapeOf(feature('Polygon', [...ring(0, 30), ...ring(10, 20)], [10, 20]), 0, 0, 1)
    expect(logOf(shape.area)?.filter(([what]) => what === 'closePath')).toHaveLength(2)
    expect(logOf(shape.area)?.filter(([what]) => what === 'moveTo')).toEqual([
      ['moveTo', 0, 0],
      ['moveTo', 10, 10],
    ])
  })

  it('are filled as they are, and outlined without vertices that cannot be seen', () => {
    const flat = [0, 0, 5, -0.1, 10, 0, 10, -10, 0, -10, 0, 0]
    const shape = shapeOf(feature('Polygon', flat, [12]), 0, 0, 1)
    expect(logOf(shape.area)?.filter(([what]) => what === 'lineTo')).toHaveLength(5)
    expect(logOf(shape.outline)?.filter(([what]) => what === 'lineTo')).toHaveLength(4)
  })

  it('know every place of several points', () => {
    expect(shapeOf(feature('MultiPoint', [1, -2, 3, -4], []), 0, 0, 1).places).toEqual([1, 2, 3, 4])
  })
})

describe('pens', () => {
  it('take colours with their opacity', () => {
    expect(rgba('#ff8000', 0.25)).toBe('rgba(255,128,0,0.25)')
  })

  it('fill and outline areas, outline lines alone', () => {
    const brush = brushOf(mark, 'areas')
    expect([brush.fill, brush.strokes[0]?.colour, brush.width]).toEqual(['rgba(255,128,0,0.25)', 'rgba(0,0,0,0.5)', 2])
    expect(brushOf(mark, 'lines').fill).toBeNull()
  })

  it('leave out strokes without width and fills without opacity', () => {
    const brush = brushOf({ ...mark, fill_opacity: 0, strokes: [{ ...line, width: 0 }] }, 'areas')
    expect([brush.fill, brush.strokes.length, brush.width]).toEqual([null, 0, 0])
  })

  const pens: Pens = {
    ...NO_PENS,
    of: (row) => (row === 9 ? null : brushOf(mark, 'areas')),
    radius: (row) => 3 + row,
    rank: (row) => -row,
    reach: 10,
  }

  it('draw areas in the order of their rows, each with its outline, as wide on the screen as asked', () => {
    const { context, log } = listening()
    const shapes = [square(0), square(9), square(1, 20)]
    drawPaths(context, piece(shapes, { scale: 2 }), pens, 1, [0, 0])
    expect(calls(log, 'fill', 'stroke')).toEqual([
      ['fill', shapes[0]?.area],
      ['stroke', shapes[0]?.outline],
      ['fill', shapes[2]?.area],
      ['stroke', shapes[2]?.outline],
    ])
    expect(calls(log, 'lineWidth')).toContainEqual(['lineWidth', 1])
  })

  it('draw the casings of all lines before what lies over them', () => {
    const { context, log } = listening()
    const cased = brushOf(markOf('#ff8000', { strokes: [{ ...line, width: 5 }, line] }), 'lines')
    const [first, second] = [square(0), square(1, 20)].map((shape) => ({ ...shape, area: null }))
    drawPaths(context, piece([first as Shape, second as Shape]), { ...pens, of: () => cased }, 1, [0, 0])
    expect(calls(log, 'lineWidth', 'stroke')).toEqual([
      ['lineWidth', 5],
      ['stroke', first?.outline],
      ['stroke', second?.outline],
      ['lineWidth', 2],
      ['stroke', first?.outline],
      ['stroke', second?.outline],
    ])
  })

  it('do not draw what is not on the canvas, or in the part of it that another tile shows', () => {
    const { context, log } = listening()
    drawPaths(context, piece([square(0)], { x: -20 }), pens, 1, [0, 0])
    drawPaths(context, piece([square(0)], { rects: [[50, 0, 150, 100]] }), pens, 1, [0, 0])
    expect(calls(log, 'fill', 'stroke')).toEqual([])
  })

  it('draw a symbol at its very place, at the sharpness of the screen', () => {
    const { context, log } = listening()
    drawSymbols(context, symbolsOf([piece([point(1, 10.25, 20.75)])], pens), pens, 2)
    const drawn = calls(log, 'fill')[0]?.[1] as ListeningPath
    expect(drawn.log).toContainEqual(['arc', 10.25, 20.75, 8, 0, 2 * Math.PI])
    expect(log).toContainEqual(['lineWidth', 4])
    expect(calls(log, 'fill', 'stroke').map(([what]) => what)).toEqual(['fill', 'stroke'])
  })

  it('draw no symbol of a part of a tile that another one shows', () => {
    const places = symbolsOf([piece([point(0, 10, 10), point(1, 60, 10)], { rects: [[0, 0, 50, 100]] })], pens)
    expect(places.map(({ shape }) => shape.row)).toEqual([0])
  })

  it('find the symbol on top, also a little beside it', () => {
    const symbols = symbolsOf([piece([point(0, 14, 10)]), piece([point(1, 10, 10)])], pens)
    expect(symbols.map(({ shape }) => shape.row)).toEqual([1, 0])
    expect(symbolAt(symbols, pens, [12, 10], 1)?.row).toBe(0)
    expect(symbolAt(symbols, pens, [4, 10], 1)).toBeUndefined()
    expect(symbolAt(symbols, { ...pens, slack: 3 }, [4, 10], 1)?.row).toBe(1)
  })
})

describe('labels', () => {
  const look: LabelLook = {
    lines: [
      { size: 11, colour: '#2b2b28', spacing: 0.1 },
      { size: 8, colour: '#8a3a1e', spacing: 0 },
    ],
    halo: 1.5,
    halo_colour: '#ffffff',
    opacity: 1,
    shadow: null,
    frame: null,
  }
  const drawn = (set: LabelSet, own: LabelLook = look, stretch = 1) => {
    const { context, log } = listening()
    drawLabels(context, [{ at: [100, 50], set, stretch }], own, 2)
    return log
  }
  const set: LabelSet = {
    p: [
      ['Ard', 'sans-500', 0, 1, 12, -3, 0, 0, 1],
      ['حيفا', 'NotoSansArabic-400', 1, 0.5, 12, 8, 90, 1, 0],
    ],
  }

  it('are left out where the edge of what is seen would cut them', () => {
    // At (50, 25) px of a canvas of 50 × 50, twice as sharp.
    const words = (b?: LabelSet['b']) => drawn({ ...set, b }).filter(([what]) => what === 'fillText').length
    expect(words([-20, -8, 0, 8])).toBe(2)
    expect(words([-20, -8, 1, 8])).toBe(0)
    expect(words([-20, -26, 0, 8])).toBe(0)
    expect(words()).toBe(2)
  })

  it('are set at the offsets of the core, in the faces of the core, all halos under all letters', () => {
    const log = drawn(set)
    expect(log.filter(([what]) => what === 'translate')).toEqual([
      ['translate', 100, 50],
      ['translate', 12, -3],
      ['translate', 12, 8],
      ['translate', 12, -3],
      ['translate', 12, 8],
    ])
    expect(log).toContainEqual(['font', '11px "sans-500"'])
    expect(log).toContainEqual(['font', '4px "NotoSansArabic-400"'])
    expect(log).toContainEqual(['rotate', Math.PI / 2])
    expect(log).toContainEqual(['lineWidth', 3])
    expect(log.filter(([what]) => what === 'letterSpacing').slice(0, 2)).toEqual([
      ['letterSpacing', '1.1px'],
      ['letterSpacing', '0px'],
    ])
    expect(log.filter(([what]) => what === 'direction').map(([, way]) => way)).toEqual(['ltr', 'rtl', 'ltr', 'rtl'])
    expect(log.filter(([what]) => String(what).endsWith('Text')).map(([what, text]) => [what, text])).toEqual([
      ['strokeText', 'Ard'],
      ['strokeText', 'حيفا'],
      ['fillText', 'Ard'],
      ['fillText', 'حيفا'],
    ])
  })

  it('have colours of their own, no halo where there is none, and plates in place of it', () => {
    expect(drawn({ ...set, c: '#123456', h: '#654321' })).toContainEqual(['strokeStyle', '#654321'])
    expect(drawn({ ...set, c: '#123456' })).toContainEqual(['fillStyle', '#123456'])
    expect(drawn(set, { ...look, halo: 0 }).some(([what]) => what === 'strokeText')).toBe(false)
    const frame = { shape: 'box', fill: '#abcdef', outline: '#000000', width: 1, room: 2 } as const
    const plated = drawn({ ...set, a: 'M0 0H9V9Z' }, { ...look, frame })
    expect(plated).toContainEqual(['fillStyle', '#abcdef'])
    expect(plated.some(([what]) => what === 'strokeText')).toBe(false)
  })

  it('have leaders below their letters', () => {
    const log = drawn({ ...set, l: [0, 0, 30, 40] })
    expect(log.findIndex(([what]) => what === 'lineTo')).toBeLessThan(log.findIndex(([what]) => what === 'fillText'))
    expect(log).toContainEqual(['lineTo', 30, 40])
  })

  it('have leaders that reach what they name between the levels for which they are placed', () => {
    const log = drawn({ ...set, l: [3, 4, 30, 40] }, look, 1.5)
    expect(log).toContainEqual(['moveTo', 3, 4])
    expect(log).toContainEqual(['lineTo', 45, 60])
  })
})

describe('layers', () => {
  it('are rasters by their symbology', () => {
    const layer = (kind: string) => ({ symbology: { kind } }) as unknown as Layer
    expect(['hillshade', 'raster-ramp', 'picture', 'symbols', 'symbols'].map((kind) => isRaster(layer(kind)))).toEqual([
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
