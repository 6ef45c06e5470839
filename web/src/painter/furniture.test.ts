// @vitest-environment happy-dom
import OlMap from 'ol/Map'
import { beforeAll, describe, expect, it } from 'vitest'
import { MERCATOR } from './frame'
import { furnitureOn } from './furniture'

beforeAll(() => {
  globalThis.ResizeObserver ??= class {
    observe() {}
    unobserve() {}
    disconnect() {}
  } as typeof ResizeObserver
})

const LOOK = { light: 'M0 0L1 1Z', dark: 'M0 0L-1 1Z', letter: 'M0 0V1', reach: 21 }

describe('furniture', () => {
  const frame = { ...MERCATOR }
  const map = new OlMap({ target: document.createElement('div'), controls: [] })
  const show = furnitureOn(map, frame)
  const arrow = () => (map.getViewport() as HTMLElement | undefined)?.querySelector<HTMLElement>('.north-arrow')
  const bar = () => (map.getViewport() as HTMLElement | undefined)?.querySelector('.ol-scale-line')

  it('is there as far as it is wanted, and once', () => {
    show({ scaleBar: true, northArrow: LOOK })
    show({ scaleBar: true, northArrow: LOOK })
    expect(map.getControls().getLength()).toBe(2)
    expect([...(arrow()?.querySelectorAll('path') ?? [])].map((path) => path.getAttribute('d'))).toContain(LOOK.dark)
    show({ scaleBar: false, northArrow: null })
    expect([arrow(), bar()]).toEqual([null, null])
  })

  it('stands lower where there is no bar below it', () => {
    show({ scaleBar: true, northArrow: LOOK })
    const above = parseFloat(arrow()?.style.bottom ?? '')
    show({ scaleBar: false, northArrow: LOOK })
    expect(parseFloat(arrow()?.style.bottom ?? '')).toBeLessThan(above)
  })

  it('turns with the frame, and is not seen where there is no north', () => {
    show({ scaleBar: true, northArrow: LOOK })
    frame.north = -12.2
    map.renderSync()
    map.getControls().forEach((control) => control.render({ frameState: null } as never))
    expect(arrow()?.style.transform).toBe('rotate(-12.2deg)')
    frame.north = null
    map.getControls().forEach((control) => control.render({ frameState: null } as never))
    expect(arrow()?.hidden).toBe(true)
  })
})
