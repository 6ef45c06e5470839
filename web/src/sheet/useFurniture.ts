import { useEffect, useMemo } from 'react'
import { useQuery } from '@tanstack/react-query'
import type OlMap from 'ol/Map'
import { furnitureOn } from '../painter/furniture'
import { startingQuery } from './queries'
import { useSheet } from './store'
import type { Place } from './useFrame'

/** The scale bar and the north arrow, as the sheet has them. */
export function useFurniture(onScreen: { map: OlMap; place: Place } | null): void {
  const furniture = useSheet((s) => s.document?.furniture)
  const arrow = useQuery(startingQuery).data?.north_arrow ?? null
  const show = useMemo(() => onScreen && furnitureOn(onScreen.map, onScreen.place.frame), [onScreen])
  const scaleBar = furniture?.scale_bar !== false
  const northArrow = furniture?.north_arrow ? arrow : null
  useEffect(() => show?.({ scaleBar, northArrow }), [show, scaleBar, northArrow])
}
