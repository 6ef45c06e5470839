import type OlMap from 'ol/Map'
import type { Blend } from '../api/types'

/** A class name of its own gives every layer a canvas of its own, which is what the browser blends as a group. */
export function classOf(layerId: string): string {
  return `sheet-layer sheet-layer-${layerId}`
}

/** Blending is done by the browser between the layers' canvases, with the W3C's formulas. */
export function applyBlend(map: OlMap, layerId: string, blend: Blend): void {
  const elements = map.getViewport()?.querySelectorAll<HTMLElement>(`.sheet-layer-${CSS.escape(layerId)}`)
  for (const element of elements ?? []) element.style.mixBlendMode = blend
}
