import { useEffect, useMemo, useRef, useState } from 'react'
import { useQueries, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import type OlMap from 'ol/Map'
import 'ol/ol.css'
import type { Group, Layer } from '../api/types'
import {
  applyInk,
  beginPictures,
  type DrawnParts,
  isPictured,
  isRaster,
  newOverlay,
  newPictureLayer,
  newVectorLayer,
  partsOf,
  showPictures,
  statesOf,
  showAtScales,
} from './mapLayers'
import { inkQuery, levelQuery, useDataset, useDatasets } from './queries'
import { useDatasetOfChosen, useSheet } from './store'
import { compose } from '../painter/blending'
import { GroupLayer } from '../painter/groupLayer'
import { hatched, type Pens, ringAround } from '../painter/pens'
import { useHatched } from './hatched'
import { useLit } from './lit'
import { mapBridge } from './mapBridge'
import { newMap } from './newMap'
import { type Place, useFrame } from './useFrame'
import { useFurniture } from './useFurniture'
import { useGround } from './useGround'
import { useMapLabels } from './useMapLabels'

const NO_LAYERS: Layer[] = []
const NO_GROUPS: Group[] = []
const NO_FIDS: readonly number[] = []

/** The map on screen, where it lies, and what of the sheet it has drawn: all of it is made anew in another projection. */
interface OnScreen {
  map: OlMap
  place: Place
  drawn: Map<string, { key: string; parts: DrawnParts; group: string | null }>
  groups: Map<string, GroupLayer>
}

/** The map as readers will see it, drawn from the same ink that the server's painter reads. */
export function MapView() {
  const host = useRef<HTMLDivElement>(null)
  const [onScreen, setOnScreen] = useState<OnScreen | null>(null)
  const map = onScreen?.map ?? null
  const sheetId = useSheet((s) => s.id)
  const layers = useSheet((s) => s.document?.layers) ?? NO_LAYERS
  const ground = useSheet((s) => s.document?.furniture.ground)
  const datasets = useDatasets()
  const groups = useSheet((s) => s.document?.groups) ?? NO_GROUPS
  const shown = useMemo(() => shownLayers(layers, groups), [layers, groups])
  const vectors = shown.filter((layer) => !isRaster(layer))
  const inks = useQueries({ queries: vectors.map(inkQuery) })
  const place = useFrame()
  const drawnSets = datasets.filter((part) => vectors.some((layer) => layer.dataset === part.id))
  const levels = useQueries({
    queries: drawnSets.map((dataset) => levelQuery(dataset, place?.crs ?? null)),
    combine: levelsBySet,
  })
  const inkReady = inks.every((part) => !part.isPending)

  const before = useRef({ sheetId, crs: place?.crs })

  useEffect(() => {
    if (!host.current || !place) return
    // In another projection than a moment ago the whole map is shown: nobody knows where what was seen has gone.
    const was = before.current
    const moved = was.sheetId === sheetId && was.crs !== undefined && was.crs !== place.crs
    before.current = { sheetId, crs: place.crs }
    const opened = newMap(host.current, place, useSheet.getState().document, moved)
    mapBridge.set(opened, place)
    setOnScreen({ map: opened, place, drawn: new Map(), groups: new Map() })
    return () => {
      mapBridge.set(null)
      opened.setTarget(undefined)
      setOnScreen(null)
    }
  }, [sheetId, place])

  // Bring the map's layers in line with the sheet's: make, restyle, order, remove.
  useEffect(() => {
    if (!onScreen) return
    const { map, place, drawn: known, groups: holders } = onScreen
    const wanted = new Set<string>()
    const remove = (entry: { parts: DrawnParts; group: string | null }) =>
      partsOf(entry.parts).forEach((part) => {
        const holder = holders.get(entry.group ?? '')
        if (holder) holder.drop(part)
        else map.removeLayer(part)
      })
    bringGroups(map, holders, groups, shown)
    shown.forEach((layer, position) => {
      const dataset = datasets.find((candidate) => candidate.id === layer.dataset)
      if (!dataset) return
      const pictured = isPictured(layer)
      const level = levels[dataset.shapes]
      // Nobody knows yet whether its shapes can be sent.
      if (!pictured && (dataset.bounds === null || level === undefined)) return
      const key = pictured ? `pictures ${layer.dataset}` : `${dataset.shapes} ${level}`
      let entry = known.get(layer.id)
      const group = layer.group ?? null
      if (entry && (entry.key !== key || entry.group !== group)) {
        remove(entry)
        entry = undefined
      }
      if (!entry) {
        const parts = pictured ? newPictureLayer(layer) : newVectorLayer(layer, dataset, place, level ?? 0)
        entry = { key, parts, group }
        known.set(layer.id, entry)
        const holder = holders.get(group ?? '')
        partsOf(parts).forEach((part) => (holder ? holder.add(part) : map.addLayer(part)))
      }
      wanted.add(layer.id)
      for (const part of partsOf(entry.parts)) {
        part.setZIndex(shown.length - position)
        part.setOpacity(layer.opacity)
      }
      showAtScales(entry.parts, place, [layer, groups.find((each) => each.id === group)])
      const states = statesOf(layer, datasets)
      if (pictured) showPictures(entry.parts, layer, place, states)
      else beginPictures(entry.parts, layer, place, states, map)
    })
    for (const [id, entry] of known) {
      if (wanted.has(id)) continue
      remove(entry)
      known.delete(id)
    }
    for (const [id, holder] of holders) {
      if (groups.some((group) => group.id === id)) continue
      map.removeLayer(holder)
      holders.delete(id)
    }
    const blend = () => shown.forEach((layer) => compose(map, layer))
    blend()
    map.on('postrender', blend)
    return () => map.un('postrender', blend)
  }, [onScreen, shown, groups, datasets, levels])

  useEffect(() => {
    vectors.forEach((layer, i) => {
      const entry = onScreen?.drawn.get(layer.id)
      const ink = inks[i]?.data
      if (!ink || !entry?.parts.shapes || !onScreen) return
      applyInk(entry.parts.shapes, ink, onScreen.place.frame)
      showPictures(entry.parts, layer, onScreen.place, statesOf(layer, datasets))
    })
  })

  useGround(onScreen)
  useFurniture(onScreen)
  useMapLabels(map, onScreen?.place ?? null)
  useHighlight(onScreen)
  useHatches(onScreen)
  return (
    <Box
      ref={host}
      data-testid="map"
      data-inked={inkReady}
      aria-label="Map"
      tabIndex={0}
      sx={{
        position: 'absolute',
        inset: 0,
        background: ground ?? 'transparent',
        '&:focus-visible': { outlineOffset: -2 },
        '& .ol-layers': { isolation: 'isolate' },
        '& .ol-zoom': { left: 8, top: 8, background: 'none', display: 'flex', flexDirection: 'column', gap: '1px' },
        '& .ol-zoom button': {
          bgcolor: 'background.paper',
          color: 'text.primary',
          border: 1,
          borderColor: 'line',
          borderRadius: '2px',
          margin: 0,
          width: 24,
          height: 24,
          fontSize: 15,
        },
        '& .ol-scale-line': {
          background: 'rgba(255,255,255,0.75)',
          borderRadius: 0,
          left: 'auto',
          right: 8,
          bottom: 8,
          padding: '2px 4px',
        },
        '& .ol-scale-line-inner': { color: '#2b2d2f', borderColor: '#2b2d2f', fontFamily: 'inherit', fontSize: 11 },
      }}
    />
  )
}

/** The layers that are to be seen: hidden ones and those of hidden groups are not. */
function shownLayers(layers: Layer[], groups: Group[]): Layer[] {
  const hidden = new Set(groups.filter((group) => !group.visible).map((group) => group.id))
  return layers.filter((layer) => layer.visible && !hidden.has(layer.group ?? ''))
}

/** Bring the map's groups in line with the sheet's; each stands where the uppermost of its layers does. */
function bringGroups(map: OlMap, holders: Map<string, GroupLayer>, groups: Group[], shown: Layer[]): void {
  for (const group of groups) {
    let holder = holders.get(group.id)
    if (!holder) {
      holder = new GroupLayer({ className: `sheet-group sheet-group-${group.id}`, properties: { layerId: group.id } })
      holders.set(group.id, holder)
      map.addLayer(holder)
    }
    const at = shown.findIndex((layer) => layer.group === group.id)
    holder.setZIndex(shown.length - at)
    holder.setOpacity(group.opacity)
    holder.blend = group.blend
    holder.effects = group.effects
    holder.changed()
  }
}

/** Which level shapes are sent from, by their name; a set of which that can't be said has nothing to be drawn either. */
function levelsBySet(answers: { data?: { shapes: string; level: number } }[]): Record<string, number> {
  return Object.fromEntries(answers.flatMap(({ data }) => (data ? [[data.shapes, data.level]] : [])))
}

/** Rings around what is chosen or pointed at. */
function useHighlight(onScreen: OnScreen | null) {
  const fid = useSheet((s) => s.fid)
  const layer = useSheet((s) => s.document?.layers.find((candidate) => candidate.id === s.layerId))
  // What is lit by a rule or a class is of the layer; rows that are chosen in a table may be of another dataset, drawn or not.
  const dataset = useDatasetOfChosen()
  const lit = useLit()
  const lights = dataset === layer?.dataset && lit.layerId !== null && lit.layerId === layer?.id ? lit.fids : NO_FIDS
  const also = useSheet((s) => s.also)
  const ringed = useMemo(() => (fid === null ? lights : [...lights, ...also, fid]), [lights, also, fid])
  useOverlay(onScreen, dataset, ringed, ringAround)
}

/** Areas of which something is said beside the map. */
function useHatches(onScreen: OnScreen | null) {
  const { dataset, fids } = useHatched()
  useOverlay(onScreen, dataset, fids, hatched)
}

/** Features of a dataset, drawn or not, marked over everything. */
function useOverlay(
  onScreen: OnScreen | null,
  datasetId: string | null,
  fids: readonly number[],
  mark: (...rows: readonly number[]) => Pens,
) {
  const of = useDataset(datasetId ?? undefined)
  const dataset = of && of.kind !== 'raster' && of.kind !== 'table' ? of : null
  const { data } = useQuery(levelQuery(dataset, onScreen?.place.crs ?? null))
  const level = data?.level
  useEffect(() => {
    if (!onScreen || fids.length === 0 || !dataset || level === undefined) return
    const { map, place } = onScreen
    const over = newOverlay(dataset, mark(...fids), place, level)
    map.addLayer(over)
    return () => {
      map.removeLayer(over)
    }
  }, [onScreen, fids, mark, dataset, level])
}
