import { useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import { answered, client, Refused } from '../api/client'
import type { FrameFigures } from '../api/types'
import { type Frame, frameFrom, MERCATOR, MERCATOR_PLACES, type Places } from '../painter/frame'
import { useSheet } from './store'

export const WEB_MERCATOR = 'EPSG:3857'

/** The frame that a sheet lies in, and its name for the server. */
export interface Place {
  frame: Frame
  crs: string
}

/** The same object at any time, so that nothing is made anew when figures come in that are known here. */
export const AT_HOME: Place = { frame: MERCATOR, crs: WEB_MERCATOR }

/** What the server says of a projection; asked once. */
export function useFigures(crs: string) {
  return useQuery({
    queryKey: ['frame', crs],
    queryFn: () => answered(client.GET('/api/draw/frames', { params: { query: { crs } } })),
    staleTime: Infinity,
    // What is no projection stays none; a server that is away comes back, and without this there is no map.
    retry: (times, error) => times < 5 && !(error instanceof Refused && error.status === 422),
  })
}

/** The projection that the sheet names. */
export function useCrs(): string {
  return useSheet((s) => s.document?.projection?.crs) ?? WEB_MERCATOR
}

/** Where the sheet lies; null until the server has told. */
export function useFrame(): Place | null {
  const crs = useCrs()
  const { data } = useFigures(crs)
  return useMemo(() => placeOf(crs, data), [crs, data])
}

function placeOf(crs: string, figures: FrameFigures | undefined): Place | null {
  if (crs === WEB_MERCATOR) return AT_HOME
  return figures ? { frame: frameFrom(figures), crs } : null
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
