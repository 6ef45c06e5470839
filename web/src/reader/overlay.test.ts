import type { FrameState } from 'ol/Map'
import type OlMap from 'ol/Map'
import { get as projectionNamed } from 'ol/proj'
import { beforeEach, describe, expect, it, vi } from 'vitest'
import { Overlay } from './overlay'

/** What is drawn, in the order in which it is. */
let drawn: string[] = []

function context(): CanvasRenderingContext2D {
  const told = (name: string) =>
    vi.fn((...numbers: number[]) => void drawn.push(`${name} ${numbers.map((n) => Math.round(n)).join(' ')}`))
  return {
    canvas: { width: 400, height: 200 },
    clearRect: vi.fn(() => (drawn = [])),
    beginPath: vi.fn(),
    lineTo: told('to'),
    arc: told('arc'),
    fill: vi.fn(() => drawn.push('fill')),
    stroke: vi.fn(),
  } as unknown as CanvasRenderingContext2D
}

const frame = (centre: number[], resolution = 1) =>
  ({
    size: [400, 200],
    pixelRatio: 1,
    viewState: { center: centre, resolution, projection: projectionNamed('EPSG:3857') },
  }) as unknown as FrameState

describe('what a reader draws', () => {
  const map = { addLayer: vi.fn() } as unknown as OlMap
  beforeEach(() => {
    drawn = []
    const own = context()
    vi.spyOn(HTMLCanvasElement.prototype, 'getContext').mockReturnValue(own as never)
  })

  it('stands where it was pressed, in px from the middle of the map, y up', () => {
    const overlay = new Overlay(map)
    overlay.place([100, 50])
    overlay.render(frame([0, 0]))
    expect(drawn.filter((each) => each.startsWith('arc'))).toEqual(['arc 300 50 5 0 6'])
    overlay.render(frame([0, 0], 2))
    expect(drawn.filter((each) => each.startsWith('arc'))).toEqual(['arc 250 75 5 0 6'])
  })

  it('is a line with a pale edge, and a ring that is closed', () => {
    const overlay = new Overlay(map)
    overlay.ring([
      [0, 0],
      [10, 0],
      [10, 10],
    ])
    overlay.render(frame([0, 0]))
    const once = ['to 200 100', 'to 210 100', 'to 210 90', 'to 200 100']
    expect(drawn).toEqual([...once, ...once])
    overlay.clear()
    overlay.render(frame([0, 0]))
    expect(drawn).toEqual([])
  })

  it('is seen on whichever side of the seam the map is looked at', () => {
    const overlay = new Overlay(map)
    const world = 2 * 20037508.342789244
    overlay.place([100, 0])
    overlay.render(frame([world, 0]))
    expect(drawn.filter((each) => each.startsWith('arc'))).toEqual(['arc 300 100 5 0 6'])
    overlay.render(frame([-world, 0]))
    expect(drawn.filter((each) => each.startsWith('arc'))).toEqual(['arc 300 100 5 0 6'])
  })

  it('lies in a holder of its own, which lets presses through', () => {
    const overlay = new Overlay(map)
    expect(overlay.render(null)).toBeNull()
    const holder = overlay.render(frame([0, 0]))
    expect(holder?.className).toBe('drawn')
    expect(holder?.style.pointerEvents).toBe('none')
    expect(holder?.querySelectorAll('canvas')).toHaveLength(1)
    overlay.render(frame([5, 5]))
    expect(holder?.querySelectorAll('canvas')).toHaveLength(1)
  })
})
