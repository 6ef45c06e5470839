import type { Near } from '../api/types'
import { nameOf } from './columns'
import { element, input } from './element'
import type { Overlay } from './overlay'
import { askPlaces } from './pointing'
import type { Page } from './tools'
import { number, word } from './words'

const LISTED = 60
const METRES = { km: 1000, mi: 1609.344 }

/** What lies within a distance of a place: pressed, found or stood at. */
export interface Nearby {
  open: (opener: HTMLElement) => void
  opener: HTMLElement | null
  /** Ask from a place in degrees. */
  at: (lonlat: number[]) => void
  /** Ask from what was found by its name, where somebody is asking already. */
  found: (lonlat: number[]) => void
  /** Begin as the address says. */
  begin: () => void
}

export function nearby(page: Page, near: Near, overlay: Overlay): Nearby {
  const { asking, panel, map } = page
  const unit = METRES[near.unit]
  let metres = (asking.said.near?.metres ?? near.distance * unit) || unit
  let away = new Map<string, Float64Array>()
  let body: HTMLElement | null = null
  let opened = false

  const slider = input('range', word('distance'))
  const typed = input('number', word('distance'))
  Object.assign(slider, { min: '0', max: String(near.largest), step: String(near.largest / 200) })
  Object.assign(typed, { min: '0', max: String(near.largest), step: 'any' })
  for (const entry of [slider, typed])
    entry.addEventListener(entry === slider ? 'input' : 'change', () => {
      const value = Number(entry.value)
      if (value > 0) metres = Math.min(value, near.largest) * unit
      typed.value = written()
      void measure()
    })
  const written = () => String(Number((metres / unit).toPrecision(4)))
  const list = element('ol', 'near')
  const summary = element('p', 'taken')
  summary.setAttribute('role', 'status')

  async function at(lonlat: number[]): Promise<void> {
    const { metresTo } = await import('./geodesic')
    const [lon = 0, lat = 0] = lonlat
    asking.said.near = { lon, lat, metres }
    away = new Map(
      near.layers.flatMap((id) => {
        const columns = asking.layers.get(id)?.columns
        return columns ? [[id, metresTo(lonlat, columns.lon, columns.lat)] as const] : []
      }),
    )
    if (!opened && api.opener) open(api.opener)
    await measure()
  }

  /** Take what lies within the distance, and draw the circle on the ground. */
  async function measure(): Promise<void> {
    slider.value = written()
    // What somebody is typing there stays.
    if (document.activeElement !== typed) typed.value = written()
    const { near: place } = asking.said
    if (!place) return
    place.metres = metres
    // Where nothing lies within it the map stays as it is: an empty one says less than what is nearest.
    const any = [...away.values()].some((distances) => distances.some((each) => each <= metres))
    for (const [id, distances] of away)
      asking.choose(
        id,
        'near',
        Uint8Array.from(distances, (each) => (each <= metres || !any ? 1 : 0)),
      )
    const { circleAround } = await import('./geodesic')
    overlay.clear()
    const centre = page.ground?.place([place.lon, place.lat])
    const around = circleAround([place.lon, place.lat], metres).flatMap((each) => {
      const there = page.ground?.place(each)
      return there ? [there] : []
    })
    if (around.length > 2) overlay.ring(around)
    if (!centre) return
    overlay.place(centre)
    // What is asked about is not to lie below what is said of it.
    const [x = 0] = map.getPixelFromCoordinate(centre) ?? []
    const covered = panel.width - x
    if (covered > -20 && panel.width < 0.6 * (map.getSize()?.[0] ?? 0))
      map.getView().animate({ center: shifted(map, covered + 120), duration: 0 })
  }

  function tell(): void {
    if (!body || !asking.said.near) return
    const distant = [...away].flatMap(([id, distances]) => {
      const layer = asking.layers.get(id)
      if (!layer) return []
      return [...layer.mask].flatMap((taken, row) => (taken ? [{ layer, row, metres: distances[row] ?? NaN }] : []))
    })
    distant.sort((a, b) => a.metres - b.metres)
    const within = distant.filter((each) => each.metres <= metres)
    const said = { distance: number(metres / unit, 2), unit: word(near.unit) }
    summary.textContent = word('within', { n: within.length, ...said })
    list.replaceChildren(
      ...(within.length ? within.slice(0, LISTED) : distant.slice(0, 1)).map(({ layer, row, metres: far }) => {
        const item = element('li', '')
        const name = document.createElement('button')
        name.type = 'button'
        name.textContent = nameOf(layer.columns, row) || word('feature')
        name.addEventListener('click', () => page.showCard(layer.id, layer.columns.fid[row] ?? 0))
        item.append(
          name,
          element('span', 'many', word('away', { distance: number(far / unit, 1), unit: word(near.unit) })),
        )
        return item
      }),
      ...(within.length > LISTED ? [element('li', '', word('more', { n: within.length - LISTED }))] : []),
    )
  }
  asking.hear(tell)
  asking.lettingGo.push(() => opened && panel.close())

  const pressed = (place: number[]) => {
    const lonlat = page.ground?.lonlat(place)
    if (lonlat) void at(lonlat)
  }

  function open(opener: HTMLElement): void {
    opened = true
    body = panel.open(word('near'), opener, () => {
      opened = false
      body = null
      end()
      overlay.clear()
      asking.said.near = null
      for (const id of away.keys()) asking.choose(id, 'near', null)
      away = new Map()
    })
    const line = element('div', 'ends')
    line.append(slider, typed, element('span', '', word(near.unit)))
    summary.textContent = word(page.reader.search.length > 0 ? 'nearFind' : 'nearHow')
    list.replaceChildren()
    body.append(line, summary, list)
    const end = askPlaces(map, pressed)
    slider.value = typed.value = written()
  }

  const api: Nearby = {
    open,
    opener: null,
    at: (lonlat) => void at(lonlat),
    found: (lonlat) => {
      if (opened) void at(lonlat)
    },
    begin: () => {
      const { near: place } = asking.said
      if (place) void at([place.lon, place.lat])
    },
  }
  return api
}

/** The middle of the map after it is moved to the right by so many px. */
function shifted(map: Page['map'], px: number): number[] {
  const [x = 0, y = 0] = map.getView().getCenter() ?? []
  return [x - px * (map.getView().getResolution() ?? 1), y]
}
