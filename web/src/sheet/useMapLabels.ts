import { useEffect, useMemo, useRef } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import type OlMap from 'ol/Map'
import type MapBrowserEvent from 'ol/MapBrowserEvent'
import PointerInteraction from 'ol/interaction/Pointer'
import type { Lettering } from '../api/types'
import { LabelLayer, labelUnder, type MapLabel } from '../painter/labelLayer'
import type { LabelLook, LabelSet } from '../painter/labels'
import { byHand, changeByHand } from '../letter/byHand'
import { loadFaces } from './faces'
import { levelBelow } from './levels'
import { begun, lettersQuery, useLetters } from './queries'
import { useSheet } from './store'
import { type Place, placesIn } from './useFrame'

/** Over all layers. */
const ABOVE = 1000
/** Px that a label has to be dragged before it is moved. */
const HELD = 3

/** The labels of the sheet on the map; while labels are worked on, they are moved by hand. */
export function useMapLabels(map: OlMap | null, place: Place | null): void {
  const level = useSheet((s) => s.level)
  const document = useSheet((s) => s.document)
  const stage = useSheet((s) => s.stage)
  const seen = useSheet((s) => s.seen)
  const { data } = useLetters(document, level, seen)
  const queries = useQueryClient()
  useEffect(
    () =>
      // Asked for at once: a label that was let go would wait for the map to be drawn, which is drawn again when it comes.
      useSheet.subscribe((now, before) => {
        if (now.document === before.document) return
        const asked = lettersQuery(now.document, now.level, now.seen)
        if (asked.enabled) void queries.prefetchQuery(asked)
      }),
    [queries],
  )
  const layer = useRef<LabelLayer | null>(null)
  const set = useRef('')
  useEffect(() => {
    if (!map) return
    layer.current = new LabelLayer({ className: 'sheet-labels', zIndex: ABOVE })
    set.current = ''
    map.addLayer(layer.current)
    return () => {
      if (layer.current) map.removeLayer(layer.current)
    }
  }, [map])
  const labels = useMemo(() => JSON.stringify([data?.labels ?? [], data?.faces ?? {}, data?.resolution ?? 1]), [data])
  const lettered = JSON.stringify(
    (document?.layers ?? []).flatMap((each) => (each.lettering && each.visible ? [[each.id, each.lettering]] : [])),
  )
  useEffect(() => {
    // To change a label is to draw the whole map again, so labels are touched only when they are not what they were.
    const wanted = lettered === '[]' ? '' : lettered + labels
    if (!layer.current || set.current === wanted) return
    set.current = wanted
    const looks = (JSON.parse(lettered) as [string, Lettering][]).map(([id, lettering]): [string, LabelLook] => [
      id,
      lookOf(lettering),
    ])
    const [placed, faces, resolution] = JSON.parse(labels) as [
      (Omit<MapLabel, 'set'> & { set: string })[],
      Record<string, string>,
      number,
    ]
    const read = placed.map((label): MapLabel => ({ ...label, set: JSON.parse(label.set) as LabelSet }))
    const names = new Set(read.flatMap((label) => label.set.p.map(([, face]) => face)))
    void loadFaces(names, faces).then(() => {
      if (set.current === wanted) layer.current?.setLabels(read, looks, resolution)
    })
  }, [map, labels, lettered])
  useEffect(() => {
    if (!map || !place || stage !== 'letter') return
    const hand = movingHand(map, place, () => layer.current)
    map.addInteraction(hand)
    return () => {
      map.removeInteraction(hand)
    }
  }, [map, place, stage])
}

/** How labels look, with all that their lettering leaves unsaid. */
function lookOf(lettering: Lettering): LabelLook {
  return {
    halo: lettering.halo,
    halo_colour: lettering.halo_colour,
    opacity: lettering.opacity,
    shadow: lettering.shadow ?? null,
    frame: lettering.frame ?? null,
    lines: lettering.lines.map((line) => ({
      size: line.size,
      colour: line.colour,
      spacing: line.spacing,
    })),
  }
}

/** The scale up to which a label stays where it is put by hand at a zoom, so many times that of the level: farther away, at the next level, it
 * finds its own place again, where there is room for it at all. */
export function reachOfHand({ frame }: Place, zoom: number, times: number): number {
  return Number((times * frame.scale(frame.resolution(levelBelow(zoom)))).toPrecision(2))
}

/** A label is taken hold of, and put where it is let go. */
function movingHand(map: OlMap, place: Place, labels: () => LabelLayer | null): PointerInteraction {
  let held: { label: MapLabel; from: number[]; moved: boolean } | null = null
  const by = (event: MapBrowserEvent): [number, number] => {
    const [x0 = 0, y0 = 0] = held?.from ?? []
    const [x = 0, y = 0] = event.coordinate
    return [x - x0, y - y0]
  }
  return new PointerInteraction({
    handleDownEvent: (event) => {
      const label = labelUnder(map, event.coordinate)
      held = label ? { label, from: event.coordinate, moved: false } : null
      return held !== null
    },
    handleDragEvent: (event) => {
      if (!held) return
      const resolution = map.getView().getResolution() ?? 1
      const [dx, dy] = by(event)
      held.moved ||= Math.hypot(dx, dy) > HELD * resolution
      if (held.moved) labels()?.setMoved({ label: held.label, by: [dx, dy] })
    },
    handleMoveEvent: (event) => {
      const viewport: HTMLElement | undefined = map.getViewport()
      if (viewport) viewport.style.cursor = labelUnder(map, event.coordinate) ? 'move' : ''
    },
    handleUpEvent: (event) => {
      if (!held) return false
      const { label, moved } = held
      const [dx, dy] = by(event)
      held = null
      const choose = () => useSheet.getState().choose(label.layer, label.feature)
      if (!moved) {
        choose()
        return false
      }
      const resolution = map.getView().getResolution() ?? 1
      const [left = 0, top = 0, right = 0, bottom = 0] = label.box
      const x = label.x + ((left + right) / 2) * resolution + dx
      const y = label.y - ((top + bottom) / 2) * resolution + dy
      void placesIn(place.crs)
        .from(x, y)
        .then((at) => {
          // It stays where it was let go until the labels come that have it there.
          const times = begun()?.gestures.reach_of_hand
          if (at && times) {
            const { document, level } = useSheet.getState()
            const lettering = document?.layers.find(({ id }) => id === label.layer)?.lettering
            const scales = { closest: null, farthest: reachOfHand(place, level, times) }
            const first = !byHand(lettering?.by_hand, label.feature)?.at
            changeByHand(label.layer, label.feature, 'move', {
              at: [at.lon, at.lat],
              hidden: false,
              ...(first ? { scales } : {}),
            })
          }
          if (!at) labels()?.setMoved(null)
          choose()
        })
      return false
    },
  })
}
