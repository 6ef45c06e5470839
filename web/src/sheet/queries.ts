import { keepPreviousData, queryOptions, replaceEqualDeep, useQuery, type UseQueryResult } from '@tanstack/react-query'
import { answered, client, postAtOnce, postForBytes } from '../api/client'
import { queries } from '../api/queries'
import type { Dataset, InkHeader, Layer, Letters, Sheet, Starting } from '../api/types'
import { loadIcons } from '../painter/brush'
import { decodeInk } from '../painter/decodeInk'
import type { Ink } from '../painter/ink'
import { levelBelow } from './levels'
import { symbolsOf } from './looks'

/** Every dataset of the library; none until the server has told. */
export function useDatasets(): Dataset[] {
  return useLibrary().data ?? NONE
}

export function useLibrary(): UseQueryResult<Dataset[]> {
  return useQuery({
    queryKey: ['datasets'],
    queryFn: () => answered(client.GET('/api/datasets')),
    staleTime: 10_000,
  })
}
const NONE: Dataset[] = []

/** A sheet without a layer and the parts that it may have, whole, as the core begins them. */
export const startingQuery = queryOptions({
  queryKey: ['starting'],
  queryFn: () => answered(client.GET('/api/draw/starting')),
  staleTime: Infinity,
})

/** The same where it is known already: for what is no component. */
export function begun(): Starting | undefined {
  return queries.getQueryData(startingQuery.queryKey)
}

export function useDataset(id: string | undefined): Dataset | null {
  return useDatasets().find((dataset) => dataset.id === id) ?? null
}

/** A layer's ink; a change of what it does not depend on asks for nothing. */
export function inkQuery(layer: Layer | null) {
  return queryOptions({
    queryKey: [
      'ink',
      layer && [layer.dataset, layer.filter, layer.others, layer.reading, layer.symbology, layer.key, layer.name],
      // The key says what the colours of labels mean.
      layer?.lettering?.colours === 'field' && layer.lettering.colour,
    ],
    queryFn: async ({ signal }): Promise<Ink> => {
      const ink = decodeInk(await postForBytes('/api/draw/ink', layer, signal))
      await loadIcons(ink.header.palette)
      // Of five classes, a dragged break changes two: the others stay the same objects, and are not drawn again.
      const header = replaceEqualDeep(headers.get(layer?.id ?? ''), ink.header)
      headers.set(layer?.id ?? '', header)
      return { ...ink, header }
    },
    enabled: layer !== null,
    staleTime: Infinity,
    retry: false,
  })
}
/** The first level at which a dataset's shapes are few enough to be sent. */
export function levelQuery(dataset: Dataset | null, crs: string | null) {
  const shaped = dataset !== null && dataset.kind !== 'raster' && dataset.kind !== 'table'
  return queryOptions({
    queryKey: ['level', dataset?.shapes, crs],
    queryFn: async () => {
      const asked = { path: { dataset_id: dataset?.id ?? '' }, query: { crs: crs ?? '' } }
      const { level } = await answered(client.GET('/api/draw/shapes/{dataset_id}/level', { params: asked }))
      return { shapes: dataset?.shapes ?? '', level }
    },
    enabled: shaped && crs !== null,
    staleTime: Infinity,
  })
}
const headers = new Map<string, InkHeader>()

export function useInk(layer: Layer | null): UseQueryResult<Ink> {
  return useQuery({ ...inkQuery(layer), placeholderData: keepPreviousData })
}

/** The labels of the whole sheet at the whole level below `at`; and around what is `seen` those of what is named throughout. */
export function lettersQuery(document: Sheet | null, at: number, seen: readonly number[] = []) {
  const zoom = levelBelow(at)
  const lettered = (document?.layers ?? []).filter(
    (layer) => layer.visible && (layer.lettering ?? (layer.kept_clear || symbolsOf(layer)?.pins)),
  )
  const within = lettered.some((layer) => layer.lettering?.throughout) ? [...seen] : []
  const projection = document?.projection ?? null
  const layers = lettered.map((layer) => ({ ...layer, card: '' }))
  const groups = document?.groups ?? []
  const asked = document && { title: document.title, projection, layers, groups }
  return queryOptions({
    queryKey: [
      'letters',
      zoom,
      within,
      projection?.crs,
      lettered.map((l) => [
        l.dataset,
        l.filter,
        l.others,
        l.reading,
        l.lettering,
        l.kept_clear,
        l.symbology,
        l.id,
        l.group,
        l.scales,
      ]),
      groups.map(({ id, scales }) => [id, scales]),
    ],
    queryFn: () => {
      const query = new URLSearchParams([['zoom', String(zoom)], ...within.map((edge) => ['within', String(edge)])])
      return postAtOnce<Letters>(`/api/draw/letters?${query}`, asked)
    },
    enabled: lettered.length > 0,
    staleTime: Infinity,
    retry: false,
  })
}

export const useLetters = (...asked: Parameters<typeof lettersQuery>) =>
  useQuery({ ...lettersQuery(...asked), placeholderData: keepPreviousData })
