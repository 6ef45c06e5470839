import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answered, client, postForBytes } from '../api/client'
import type { Sheet } from '../api/types'

/** Projections that suit where the sheet's data lie. */
export function useSuggestions(document: Sheet) {
  return useQuery({
    queryKey: ['projections', document.layers.map((layer) => layer.dataset)],
    queryFn: () => answered(client.POST('/api/draw/frames/suggest', { body: document })),
  })
}

/** PROJ's list, by code, name and area. */
export function useListed(text: string) {
  return useQuery({
    queryKey: ['projections', 'search', text],
    queryFn: () => answered(client.GET('/api/draw/frames/search', { params: { query: { text } } })),
    enabled: text.trim() !== '',
    placeholderData: keepPreviousData,
    staleTime: Infinity,
  })
}

/** The present map in a projection, as a picture at an address of this page; null where there is nothing to draw. */
export function usePicture(document: Sheet, crs: string, width: number, height: number) {
  return useQuery({
    queryKey: ['projections', 'picture', crs, width, height, document.layers, document.furniture.ground],
    queryFn: async ({ signal }) => {
      const sheet = { ...document, projection: { crs } }
      const bytes = await postForBytes(`/api/draw/picture?width=${width}&height=${height}`, sheet, signal)
      return bytes.byteLength ? dataAddress(bytes) : null
    },
    retry: false,
    gcTime: 60_000,
  })
}

function dataAddress(bytes: ArrayBuffer): string {
  const letters = Array.from(new Uint8Array(bytes), (byte) => String.fromCharCode(byte)).join('')
  return `data:image/png;base64,${btoa(letters)}`
}
