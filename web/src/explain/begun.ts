import { answered, client } from '../api/client'
import type { Layer } from '../api/types'
import { numbersOf } from '../classify/numbers'
import { rowsOf } from '../sheet/read'
import type { Filter, Reader } from './reader'

/** By what readers choose among the features of a layer at first: by a field, or by the one they are likeliest to ask about, none of those that are taken. */
export function begunFilter(layer: Layer, asked: { field?: string; taken?: string[] }): Promise<Filter> {
  const { field = null, taken = [] } = asked
  const body = { ...rowsOf(layer), layer: layer.id, field, taken, shown: numbersOf(layer)?.field || null }
  return answered(client.POST('/api/draw/filter', { body }))
}

/** By what readers find them at first. */
export function begunSearch(layer: Layer): Promise<Reader['search'][number]> {
  return answered(client.POST('/api/draw/search', { body: { ...rowsOf(layer), layer: layer.id } }))
}
