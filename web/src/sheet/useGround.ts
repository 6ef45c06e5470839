import { useEffect, useState } from 'react'
import type OlMap from 'ol/Map'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Ground } from '../painter/ground'
import { groundOn } from '../painter/groundOn'
import { useSheet } from './store'
import type { Place } from './useFrame'

/** The sea, and meridians and parallels with their degrees, as the sheet has them. */
export function useGround(onScreen: { map: OlMap; place: Place } | null): void {
  const sea = useSheet((s) => s.document?.furniture.sea) ?? null
  const graticule = useSheet((s) => s.document?.furniture.graticule) ?? null
  const [seen, setSeen] = useState<number[] | null>(null)
  const crs = onScreen?.place.crs ?? ''
  const outline = useQuery({
    queryKey: ['outline', crs],
    queryFn: () => answered(client.GET('/api/draw/frames/outline', { params: { query: { crs } } })),
    enabled: sea !== null && crs !== '',
    staleTime: Infinity,
  })
  const step = graticule?.step ?? null
  const lines = useQuery({
    queryKey: ['graticule', crs, seen, step],
    queryFn: () => {
      const [left = 0, bottom = 0, right = 0, top = 0, resolution = 1] = seen ?? []
      const query = { crs, left, bottom, right, top, resolution, ...(step ? { step } : {}) }
      return answered(client.GET('/api/draw/frames/graticule', { params: { query } }))
    },
    enabled: graticule !== null && crs !== '' && seen !== null,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
    retry: false,
  })
  const [ground, setGround] = useState<ReturnType<typeof groundOn> | null>(null)

  useEffect(() => {
    if (!onScreen) return
    const { map } = onScreen
    const shown = groundOn(map)
    setGround(shown)
    // With room for moving the map by as much as is seen.
    const look = () => {
      const [wide = 0, high = 0] = map.getSize() ?? []
      const [x = 0, y = 0] = map.getView().getCenter() ?? []
      const resolution = map.getView().getResolution() ?? 1
      setSeen([
        x - 1.5 * wide * resolution,
        y - 1.5 * high * resolution,
        x + 1.5 * wide * resolution,
        y + 1.5 * high * resolution,
        resolution,
      ])
    }
    look()
    map.on('moveend', look)
    return () => {
      map.un('moveend', look)
      shown.end()
      setGround(null)
    }
  }, [onScreen])

  useEffect(() => {
    const shown: Ground = {
      outline: sea ? (outline.data ?? []) : [],
      lines: graticule ? (lines.data ?? []) : [],
      style: { sea, graticule },
    }
    ground?.show(sea || graticule ? shown : null)
  }, [ground, sea, graticule, outline.data, lines.data])
}
