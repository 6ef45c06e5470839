import type OlMap from 'ol/Map'
import { levelOf } from '../painter/frame'
import { AT_HOME, type Place, placesIn } from './useFrame'

interface OnScreen extends Place {
  map: OlMap
}

const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches
let current: OnScreen | null = null

/** The one map on screen, for actions outside of its component: fitting to a layer, taking the start view. */
export const mapBridge = {
  get: () => current?.map ?? null,
  set: (map: OlMap | null, place: Place = AT_HOME) => {
    current = map && { map, ...place }
    // Tests and people at the console reach the map by this name.
    ;(window as unknown as { sheetMap: OlMap | null }).sheetMap = map
  },
}

/** Move the map to a box in degrees. */
export async function fitTo(bounds: readonly number[]): Promise<void> {
  const asked = current
  const box = asked && (await placesIn(asked.crs).box(bounds))
  if (box && asked === current) fitToBox(box)
}

/** The same to a box in the units of the map that is on screen. */
export function fitToBox(box: readonly number[]): void {
  current?.map.getView().fit([...box], {
    padding: [24, 24, 24, 24],
    duration: STILL ? 0 : 200,
    minResolution: current.frame.resolution(16),
  })
}

/** The box in degrees of what the map shows; null where that can't be said. */
export async function boundsInView(): Promise<[number, number, number, number] | null> {
  const asked = current
  if (!asked) return null
  const [left = 0, bottom = 0, right = 0, top = 0] = asked.map.getView().calculateExtent(asked.map.getSize())
  const places = placesIn(asked.crs)
  const shares = [0, 0.5, 1]
  const seen = await Promise.all(
    shares.flatMap((x) => shares.map((y) => places.from(left + x * (right - left), bottom + y * (top - bottom)))),
  )
  const there = seen.filter((place) => place !== null)
  if (there.length === 0) return null
  const [lons, lats] = [there.map(({ lon }) => lon), there.map(({ lat }) => lat)]
  return [Math.min(...lons), Math.min(...lats), Math.max(...lons), Math.max(...lats)]
}

let wanted: ((place: number[] | null) => void) | null = null

/** Degrees of the place that is pressed next on the map; null where that is called off by Escape. */
export async function nextPlace(): Promise<{ lon: number; lat: number } | null> {
  const asked = current
  wanted?.(null)
  if (!asked) return null
  const target = asked.map.getTargetElement()
  target?.classList.add('wants-place')
  const callOff = (event: KeyboardEvent) => event.key === 'Escape' && wanted?.(null)
  window.addEventListener('keydown', callOff)
  const pressed = await new Promise<number[] | null>((resolve) => (wanted = resolve))
  wanted = null
  window.removeEventListener('keydown', callOff)
  target?.classList.remove('wants-place')
  const place = pressed && (await placesIn(asked.crs).from(pressed[0] ?? 0, pressed[1] ?? 0))
  return place ? { lon: round(place.lon, 7), lat: round(place.lat, 7) } : null
}

/** Give a pressed place to whoever waits for one; false where nobody does. */
export function placePressed(coordinate: number[]): boolean {
  wanted?.(coordinate)
  return wanted !== null
}

export interface StartView {
  lon: number
  lat: number
  zoom: number
}

/** Centre and level of what is seen, in degrees as a sheet's start view has them and in the map's own units. */
export async function currentView(): Promise<(StartView & { x: number; y: number; round: boolean }) | null> {
  if (!current) return null
  const { map, frame, crs } = current
  const [x = 0, y = 0] = map.getView().getCenter() ?? []
  const place = await placesIn(crs).from(x, y)
  if (!place) return null
  const zoom = round(levelOf(map.getView(), frame), 2)
  return {
    lon: round(place.lon, 5),
    lat: round(place.lat, 5),
    zoom,
    x: round(x, 3),
    y: round(y, 3),
    round: frame.round,
  }
}

function round(value: number, decimals: number): number {
  return Number(value.toFixed(decimals))
}
