import type OlMap from 'ol/Map'
import type RenderEvent from 'ol/MapEvent'
import { drawDegrees, drawGround, type Ground } from './ground'
import { LabelLayer } from './labelLayer'
import type { Box } from './labels'
import { LabelTileLayer } from './labelTiles'

/** Draw a ground below a map and its degrees over it, whenever the map is drawn; returns how to change it and how to end it. */
export function groundOn(map: OlMap): { show: (ground: Ground | null) => void; end: () => void } {
  const target = map.getTargetElement() as HTMLElement
  const below = canvasIn(target, 'first')
  const over = canvasIn(target, 'last')
  let ground: Ground | null = null
  const draw = (event: RenderEvent) => {
    const state = event.frameState
    const [contextBelow, contextOver] = [below.getContext('2d'), over.getContext('2d')]
    if (!state || !contextBelow || !contextOver) return
    const [width = 0, height = 0] = state.size
    const { center, resolution } = state.viewState
    const seen = { center, resolution, width, height, ratio: state.pixelRatio }
    const shown = ground ?? NOTHING
    drawGround(contextBelow, shown, seen)
    const ratio = state.pixelRatio
    const covered = map
      .getLayers()
      .getArray()
      .flatMap((layer) =>
        (layer instanceof LabelLayer || layer instanceof LabelTileLayer) && layer.getVisible() ? layer.covered : [],
      )
    drawDegrees(
      contextOver,
      shown,
      seen,
      covered.map((box) => box.map((side) => side / ratio) as Box),
    )
  }
  map.on('postrender', draw)
  return {
    show: (next) => {
      ground = next
      map.render()
    },
    end: () => {
      map.un('postrender', draw)
      below.remove()
      over.remove()
    },
  }
}

const NOTHING: Ground = { outline: [], lines: [], style: { sea: null, graticule: null } }

function canvasIn(target: HTMLElement, where: 'first' | 'last'): HTMLCanvasElement {
  const canvas = document.createElement('canvas')
  canvas.setAttribute('aria-hidden', 'true')
  Object.assign(canvas.style, {
    position: 'absolute',
    inset: '0',
    width: '100%',
    height: '100%',
    pointerEvents: 'none',
  })
  if (where === 'first') target.prepend(canvas)
  else target.append(canvas)
  return canvas
}
