import { QueryClient } from '@tanstack/react-query'
import { startingQuery } from '../sheet/queries'
import type { Classing, Layer, Mark, Starting } from './types'
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

/** How parts of a sheet begin, with two families of type. */
export function begunParts(): Starting {
  const families = {
    sans: { weights: [400, 500, 600, 700], nearest: { 400: 400, 700: 700 }, slants: true },
    narrow: { weights: [400, 700], nearest: { 400: 400, 500: 400, 600: 700, 700: 700 }, slants: false },
  }
  return whole('StartingOut', { ramp: {}, gestures: {}, keeping_rows: ['centres'], families } as never)
}

/** Answers of the server, among them how parts of a sheet begin. */
export function begunQueries(): QueryClient {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } })
  queries.setQueryData(startingQuery.queryKey, begunParts())
  return queries
}
