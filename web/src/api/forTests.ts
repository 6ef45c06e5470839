import type { Classing, Layer, Mark } from './types'
import { whole } from './whole'

/** A layer with a colour per class. */
export function classedLayer(id: string, classing: Partial<Classing>): Layer {
  const colour = { by: 'classes', classing: { field: 'v', ...classing } }
  return whole('Layer', { id, name: id, dataset: 'd', symbology: { kind: 'symbols', encodings: { colour } } } as never)
}

/** A mark with one stroke. */
export function markOf(fill: string, more: Partial<Mark> = {}): Mark {
  return whole('Mark', { fill, fill_opacity: 1, strokes: [], radius: 4, texture: null, inner: null, ...more } as never)
}
