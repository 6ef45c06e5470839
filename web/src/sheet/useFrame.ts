import { useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import { type Frame, frameFrom, MERCATOR, MERCATOR_PLACES, type Places } from '../frame'
import { useSheet } from './store'

export const WEB_MERCATOR = 'EPSG:3857'

/** What the server says of a projection; asked once. */
export function useFigures(crs: string) {
  return useQuery({
    queryKey: ['frame', crs],
    queryFn: () => answered(client.GET('/api/draw/frames', { params: { query: { crs } } })),
    staleTime: Infinity,
    retry: false,
  })
}

/** The projection that the sheet names. */
export function useCrs(): string {
  return useSheet((s) => s.document?.projection?.crs) ?? WEB_MERCATOR
}

/** Where the sheet lies; null until the server has told. */
export function useFrame(): { frame: Frame; crs: string } | null {
  const crs = useCrs()
  const own = crs === WEB_MERCATOR
  const { data } = useFigures(crs)
  return useMemo(() => {
    const frame = own ? MERCATOR : data && frameFrom(data)
    return frame ? { frame, crs } : null
  }, [own, crs, data])
}

const nothing = () => null

/** Places in a projection; those of the web's own need no question. */
export function placesIn(crs: string): Places {
  if (crs === WEB_MERCATOR) return MERCATOR_PLACES
  return {
    to: (lon, lat) =>
      answered(client.GET('/api/draw/frames/place', { params: { query: { crs, lon, lat } } }))
        .then(({ x, y }): [number, number] => [x, y])
        .catch(nothing),
    from: (x, y) =>
      answered(client.GET('/api/draw/frames/lonlat', { params: { query: { crs, x, y } } })).catch(nothing),
    box: ([west = -180, south = -90, east = 180, north = 90]) =>
      answered(client.GET('/api/draw/frames/box', { params: { query: { crs, west, south, east, north } } }))
        .then(({ box }) => box ?? null)
        .catch(nothing),
  }
}
