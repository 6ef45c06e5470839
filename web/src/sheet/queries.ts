import { keepPreviousData, useQuery, type UseQueryResult } from '@tanstack/react-query'
import { answered, client, postForBytes } from '../api/client'
import type { Dataset, Layer, Sheet } from '../api/types'
import { decodeInk, type Ink } from './ink'

export function useDatasets(): Dataset[] {
  return useQuery({ queryKey: ['datasets'], queryFn: () => answered(client.GET('/api/datasets')) }).data ?? NONE
}
const NONE: Dataset[] = []

export function useDataset(id: string | undefined): Dataset | null {
  return useDatasets().find((one) => one.id === id) ?? null
}

/** What the ink of a layer depends on; a change of anything else asks for nothing. */
export function inkKey(layer: Layer): unknown[] {
  return ['ink', layer.dataset, layer.symbology, layer.key, layer.name]
}

export function useInk(layer: Layer | null): UseQueryResult<Ink> {
  return useQuery({
    queryKey: layer ? inkKey(layer) : ['ink', null],
    queryFn: async ({ signal }) => decodeInk(await postForBytes('/api/draw/ink', layer, signal)),
    enabled: layer !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    retry: false,
  })
}

/** The labels of the whole sheet at a whole zoom level. */
export function useLetters(document: Sheet | null, zoom: number) {
  const lettered = (document?.layers ?? []).filter((layer) => layer.lettering && layer.visible)
  const asked = document && { title: document.title, layers: lettered.map((layer) => ({ ...layer, card: '' })) }
  return useQuery({
    queryKey: ['letters', zoom, lettered.map((l) => [l.dataset, l.lettering, l.symbology, l.id])],
    queryFn: () => answered(client.POST('/api/draw/letters', { params: { query: { zoom } }, body: asked as Sheet })),
    enabled: lettered.length > 0,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    retry: false,
  })
}
