import { keepPreviousData, queryOptions } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Layer } from '../api/types'
import { lookOf, takenBefore } from '../sheet/looks'
import { rowsOf } from '../sheet/read'
import { classingIn } from './classing'
import type { Part } from './part'

/** The numbers that a layer puts into classes, as the server is asked for them: those of a field, or of a raster's band; null for none. */
export function numbersOf(layer: Layer) {
  const all = { ...rowsOf(layer), without: takenBefore(layer) }
  if (layer.symbology.kind === 'raster-classes')
    return { ...all, field: '', normalise: null, band: layer.symbology.band }
  const classing = classingIn(lookOf(layer, null))
  return classing && { ...all, field: classing.field, normalise: classing.normalise ?? null, band: null }
}

/** How those numbers are distributed. */
export function distributionQuery(layer: Layer, part: Part) {
  const numbers = numbersOf(layer)
  const body = numbers && { ...numbers, ...part }
  return queryOptions({
    queryKey: ['distribution', body],
    queryFn: () => answered(client.POST('/api/draw/distribution', { body: body ?? ({} as never) })),
    enabled: body !== null,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
