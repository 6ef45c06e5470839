import type OlMap from 'ol/Map'
import Control from 'ol/control/Control'
import ScaleLine from 'ol/control/ScaleLine'
import type { NorthArrow } from '../api/types'
import type { Frame } from './frame'

/** Px that a scale bar has at least, as the server's painter has it. */
const SHORTEST = 80
/** Px from the edge of the map to what stands on it, and to what stands above the bar. */
const EDGE = 8
const ABOVE = 34
const INK = '#2b2d2f'
const PAPER = '#ffffff'

/** What is wanted on a map besides its layers; null: no arrow. */
export interface Furniture {
  scaleBar: boolean
  northArrow: NorthArrow | null
}

/** Let a scale bar and a north arrow stand on a map; returns how to change what is there. Both follow what the frame says of the map's middle. */
export function furnitureOn(map: OlMap, frame: Frame): (wanted: Furniture) => void {
  const bar = new ScaleLine({ minWidth: SHORTEST })
  const arrow = new Arrow(frame)
  const stand = (control: Control, wanted: boolean) => {
    const there = map.getControls().getArray().includes(control)
    if (wanted && !there) map.addControl(control)
    else if (!wanted && there) map.removeControl(control)
  }
  return ({ scaleBar, northArrow }) => {
    stand(bar, scaleBar)
    if (northArrow) arrow.draw(northArrow, scaleBar ? ABOVE : EDGE)
    stand(arrow, northArrow !== null)
  }
}

/** An arrow that turns to where north is. */
class Arrow extends Control {
  private readonly box: HTMLElement

  constructor(frame: Frame) {
    const box = document.createElement('div')
    box.className = 'ol-control north-arrow'
    box.setAttribute('role', 'img')
    box.setAttribute('aria-label', 'North')
    super({
      element: box,
      render: () => {
        box.hidden = frame.north === null
        box.style.transform = `rotate(${frame.north ?? 0}deg)`
      },
    })
    this.box = box
  }

  draw({ light, dark, letter, reach }: NorthArrow, foot: number): void {
    const [left, across] = [-reach, 2 * reach]
    const picture = part('svg', { viewBox: `${left} ${left} ${across} ${across}`, width: across, height: across })
    const halo = { fill: 'none', stroke: PAPER, 'stroke-width': 4, 'stroke-opacity': 0.75 }
    const line = { stroke: INK, 'stroke-width': 1 }
    picture.append(
      ...[light, dark, letter].map((d) => part('path', { d, ...halo })),
      part('path', { d: light, fill: PAPER, ...line }),
      part('path', { d: dark, fill: INK, ...line }),
      part('path', { d: letter, fill: 'none', stroke: INK, 'stroke-width': 1.5 }),
    )
    picture.setAttribute('stroke-linejoin', 'round')
    picture.setAttribute('stroke-linecap', 'round')
    this.box.replaceChildren(picture)
    Object.assign(this.box.style, {
      right: `${EDGE}px`,
      bottom: `${foot}px`,
      height: `${across}px`,
      background: 'none',
      pointerEvents: 'none',
    })
  }
}

function part(tag: string, attributes: Record<string, string | number>): SVGElement {
  const node = document.createElementNS('http://www.w3.org/2000/svg', tag)
  for (const [name, value] of Object.entries(attributes)) node.setAttribute(name, String(value))
  return node
}
