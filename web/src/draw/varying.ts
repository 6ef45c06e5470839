import { answered, client } from '../api/client'
import type { Channel, Layer, Look, Symbols } from '../api/types'
import { editLook, lookOf, symbolsOf } from '../sheet/looks'
import { rowsOf } from '../sheet/read'
import { useSheet } from '../sheet/store'

/** Let a channel of the look being edited vary by something else, or no more; the server knows what is taken along. */
export async function vary(layer: Layer, channel: Channel, by: string | null, fields: string[] = []): Promise<void> {
  const symbology = asSymbols(layer)
  if (!symbology) return
  const body = { ...rowsOf(layer), symbology, channel, by, fields }
  take(layer, channel, await answered(client.POST('/api/draw/varied', { body })))
}

/** Show a field as a cartographer would begin. */
export async function showField(layer: Layer, field: string): Promise<void> {
  const symbology = asSymbols(layer)
  if (!symbology) return
  const body = { ...rowsOf(layer), symbology, field }
  take(layer, 'field', await answered(client.POST('/api/draw/shown', { body })))
}

/** The look being edited, as a symbology by itself. */
function asSymbols(layer: Layer): Symbols | null {
  const symbols = symbolsOf(layer)
  const look = lookOf(layer, useSheet.getState().ruleId)
  return symbols && look
    ? { ...symbols, symbol: look.symbol, encodings: look.encodings, rules: [], exceptions: {} }
    : null
}

function take(layer: Layer, tag: string, { symbol, encodings }: Look): void {
  editLook(layer.id, `vary-${tag}`, (look) => void Object.assign(look, { symbol, encodings }))
}
