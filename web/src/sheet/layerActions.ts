import type { Dataset, Layer } from '../api/types'
import { dropLayer } from './groups'
import { useSheet } from './store'

function freshId(taken: string[]): string {
  for (let n = taken.length + 1; ; n++) if (!taken.includes(`layer-${n}`)) return `layer-${n}`
}

/** From the top down: what lies below would be hidden by what lies above. */
const ORDER = ['points', 'lines', 'areas', 'raster']

/** Where a new layer goes: over all of its own kind, and under the symbols and lines that it would hide; rasters at the bottom. */
export function placeFor(kind: Dataset['kind'], layers: readonly Layer[], known: readonly Dataset[]): number {
  if (kind === 'raster') return layers.length
  const over = (layer: Layer) => {
    const below = known.find((dataset) => dataset.id === layer.dataset)?.kind ?? 'areas'
    return ORDER.indexOf(below) < ORDER.indexOf(kind)
  }
  const at = layers.findIndex((layer) => !over(layer))
  return at < 0 ? layers.length : at
}

/** A layer as it begins, in the first of its hues that no other layer has: two that look alike tell nothing apart. */
export function inAHueOfItsOwn({ starting, hues, kind }: Dataset, layers: readonly Layer[]): Layer {
  const { symbology } = starting
  if (symbology.kind !== 'symbols') return starting
  const taken = new Set(
    layers.flatMap(({ symbology: other }) =>
      other.kind === 'symbols' ? [other.symbol.fill, ...other.symbol.strokes.map(({ colour }) => colour)] : [],
    ),
  )
  const hue = hues.find((each) => !taken.has(each))
  if (!hue) return starting
  const { symbol } = symbology
  const coloured =
    kind === 'lines'
      ? { ...symbol, strokes: symbol.strokes.map((stroke) => ({ ...stroke, colour: hue })) }
      : { ...symbol, fill: hue }
  return { ...starting, symbology: { ...symbology, symbol: coloured } }
}

/** Put a dataset on the map, at the place that suits its kind; `known` are the datasets of the layers that are there. */
export function addLayer(dataset: Dataset, known: readonly Dataset[]): void {
  const { document, edit, choose } = useSheet.getState()
  const id = freshId((document?.layers ?? []).map((other) => other.id))
  const layer = { ...inAHueOfItsOwn(dataset, document?.layers ?? []), id }
  edit('add', (draft) => {
    const layers = draft.layers
    draft.layers = layers.toSpliced(placeFor(dataset.kind, layers, known), 0, layer)
    if (!draft.furniture.credits && dataset.credit) draft.furniture = { ...draft.furniture, credits: dataset.credit }
  })
  choose(id)
}

export function duplicateLayer(id: string | null): void {
  const { document, edit, choose } = useSheet.getState()
  const layers = document?.layers ?? []
  const at = layers.findIndex((layer) => layer.id === id)
  const original = layers[at]
  if (!original) return
  const copy = {
    ...structuredClone(original),
    id: freshId(layers.map((layer) => layer.id)),
    name: `${original.name} (copy)`,
  }
  edit('duplicate', (draft) => void draft.layers.splice(at, 0, copy))
  choose(copy.id)
}

export function moveLayer(id: string | null, by: -1 | 1): void {
  useSheet.getState().edit('order', (draft) => {
    const at = draft.layers.findIndex((layer) => layer.id === id)
    const onto = draft.layers[at + by]
    if (id && at >= 0 && onto) dropLayer(draft, id, onto.id)
  })
}
