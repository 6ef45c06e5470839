import type { InkHeader, KeyEntry, Layer, Look, Symbols } from '../api/types'
import { useSheet } from './store'

/** How a layer of shapes is drawn; null for rasters. */
export function symbolsOf(layer: Layer | null | undefined): Symbols | null {
  return layer?.symbology.kind === 'symbols' ? layer.symbology : null
}

/** The look of a rule of a layer, or that of the layer itself where `ruleId` is null or names none. */
export function lookOf(layer: Layer | null, ruleId: string | null): Look | null {
  const symbols = symbolsOf(layer)
  return symbols?.rules.find((rule) => rule.id === ruleId) ?? symbols
}

/** Change the look that is being edited: that of the chosen rule, or the layer's own. */
export function editLook(layerId: string, tag: string, change: (look: Look) => void): void {
  const { editLayer, ruleId } = useSheet.getState()
  editLayer(layerId, `${tag} ${ruleId ?? ''}`, (draft) => {
    const look = lookOf(draft, ruleId)
    if (look) change(look)
  })
}

/** The layer as if the look being edited were its own: of the rows of the chosen rule, those that no rule before it takes. */
export function layerOfLook(layer: Layer, ruleId: string | null): Layer {
  const symbols = symbolsOf(layer)
  const at = symbols?.rules.findIndex((each) => each.id === ruleId) ?? -1
  const rule = symbols?.rules[at]
  if (!symbols || !rule) return layer
  const filter = [layer.filter, rule.where]
    .filter((part) => part.trim())
    .map((part) => `(${part})`)
    .join(' AND ')
  const rules = symbols.rules.slice(0, at)
  return { ...layer, filter, symbology: { ...symbols, symbol: rule.symbol, encodings: rule.encodings, rules } }
}

/** The conditions of rules that take rows of a layer before its own look does. */
export function takenBefore(layer: Layer): string[] {
  return symbolsOf(layer)?.rules.flatMap((rule) => (rule.active ? [rule.where] : [])) ?? []
}

/** What the key says of the steps of a channel of a look that is drawn alone, by their places in its encoding: keys are ordered by their makers, and
 * what rules before it say stands above it. */
export function stepsOf(header: InkHeader | undefined, channel: string): (KeyEntry | undefined)[] {
  const steps: (KeyEntry | undefined)[] = []
  for (const entry of header?.key.findLast((section) => section.channel === channel)?.entries ?? [])
    if (entry.step != null) steps[entry.step] = entry
  return steps
}

/** The layer's look being edited, as it is drawn alone. */
export function useLayerOfLook(layer: Layer): Layer {
  const ruleId = useSheet((s) => s.ruleId)
  return layerOfLook(layer, ruleId)
}
