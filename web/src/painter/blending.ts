import type OlMap from 'ol/Map'
import type { Blend, Effects } from '../api/types'
import { rgba } from './brush'

/** A class name of its own gives every layer a canvas of its own, which is what the browser blends as a group. */
export function classOf(layerId: string): string {
  return `sheet-layer sheet-layer-${layerId}`
}

interface Composed {
  id: string
  blend: Blend
  effects: Effects
}

/** Blending and effects are done by the browser between the layers' canvases, with the W3C's formulas. */
export function compose(map: OlMap, { id, blend, effects }: Composed): void {
  const elements = map.getViewport()?.querySelectorAll<HTMLElement>(`.sheet-layer-${CSS.escape(id)}`)
  for (const element of elements ?? []) {
    element.style.mixBlendMode = blend
    // On the canvas itself, whose opacity is that of what the effects have made.
    const canvas = element.querySelector('canvas')
    if (canvas) canvas.style.filter = filterOf(effects)
  }
}

/** Blur, glow and shadow, one after the other, as the server's painter makes them. */
export function filterOf({ blur, glow, shadow }: Effects): string {
  const parts = [blur > 0 ? `blur(${blur}px)` : '']
  if (glow && glow.opacity > 0) parts.push(`drop-shadow(0 0 ${glow.blur}px ${rgba(glow.colour, glow.opacity)})`)
  if (shadow && shadow.opacity > 0)
    parts.push(
      `drop-shadow(${shadow.right}px ${shadow.down}px ${shadow.blur}px ${rgba(shadow.colour, shadow.opacity)})`,
    )
  return parts.filter(Boolean).join(' ')
}
