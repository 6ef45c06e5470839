import type OlMap from 'ol/Map'
import type BaseLayer from 'ol/layer/Base'
import type { EditionPage, PageReader } from '../api/types'
import type { Asking } from './asking'
import { button, element, input } from './element'
import type { Ground } from './ground'
import type { PageLayerOnMap } from './layers'
import { measuring } from './measuring'
import { nearby } from './nearby'
import { Overlay } from './overlay'
import { searchBox } from './searchBox'
import { tableOf } from './tableOf'
import { word } from './words'

const GLYPHS = {
  near: 'M8 1.5a6.5 6.5 0 1 0 .01 0M8 6.5a1.5 1.5 0 1 0 .01 0',
  measure: 'M1.5 11L11 1.5 14.5 5 5 14.5ZM4 8.5l1.5 1.5M6.5 6L8 7.5M9 3.5L10.500 5',
  locate: 'M8 4a4 4 0 1 0 .01 0M8 1v3M8 12v3M1 8h3M12 8h3',
  fullScreen: 'M2 6V2h4M10 2h4v4M14 10v4h-4M6 14H2v-4',
  layers: 'M8 2l6 3.500-6 3.500-6-3.500ZM2 8.500L8 12l6-3.500M2 11.500L8 15l6-3.500',
  download: 'M8 2v8M4.500 6.500L8 10l3.500-3.500M2 11v3h12v-3',
  share: 'M6 8.500L10 6M6 8l4 2.500M4 6.500a2 2 0 1 0 .01 0M12 2.500a2 2 0 1 0 .01 0M12 9.500a2 2 0 1 0 .01 0',
  table: 'M2 3h12v10H2ZM2 6.500h12M2 10h12M6.500 3v10',
}

/** What the page's tools work with. */
export interface Page {
  map: OlMap
  main: HTMLElement
  edition: EditionPage
  reader: PageReader
  layers: PageLayerOnMap[]
  asking: Asking
  ground: Ground | null
  /** Fetch what the layers that nothing is asked of have to say. */
  loadRest: () => Promise<boolean>
  /** Layers below all others. */
  below: () => BaseLayer[]
  /** Come to a feature and show its card; `closer` until it can be told from its neighbours. */
  showCard: (layer: string, fid: number, closer?: boolean) => void
  panel: Panel
}

/** One panel over the map's edge at a time, for what a tool has to say. */
export class Panel {
  private readonly box = element('aside', 'panel')
  private closing: () => void = () => undefined
  private opener: HTMLElement | null = null

  constructor(main: HTMLElement) {
    this.box.hidden = true
    main.append(this.box)
    // Also from the button that opened it, where the keyboard still is.
    addEventListener('keydown', (event) => {
      const here = document.activeElement
      if (event.key === 'Escape' && (this.box.contains(here) || here === this.opener)) this.close()
    })
  }

  open(title: string, opener: HTMLElement | null, closing: () => void = () => undefined): HTMLElement {
    this.close()
    ;[this.opener, this.closing] = [opener, closing]
    opener?.setAttribute('aria-pressed', 'true')
    const body = element('div', 'body')
    const shut = button('×', () => this.close())
    shut.className = 'close'
    shut.setAttribute('aria-label', word('close'))
    this.box.setAttribute('aria-label', title)
    this.box.replaceChildren(element('h2', '', title), shut, body)
    this.box.hidden = false
    return body
  }

  close(): void {
    if (this.box.hidden) return
    const inside = this.box.contains(document.activeElement)
    this.box.hidden = true
    this.closing()
    this.closing = () => undefined
    this.opener?.setAttribute('aria-pressed', 'false')
    if (inside) this.opener?.focus()
  }

  /** Px of the map, from its left, below it. */
  get width(): number {
    return this.box.hidden ? 0 : this.box.offsetLeft + this.box.offsetWidth
  }

  isOf(opener: HTMLElement): boolean {
    return !this.box.hidden && this.opener === opener
  }
}

/** The tools that the maker chose, in the band of the title. */
export function toolsOf(page: Page, host: HTMLElement): void {
  const { reader, main, panel, map, edition } = page
  const { controls } = reader
  const bar = element('div', 'tools')
  bar.setAttribute('role', 'toolbar')
  bar.setAttribute('aria-label', word('tools'))
  const overlay = new Overlay(map)
  const panelled = (name: keyof typeof GLYPHS, title: string, open: (opener: HTMLElement) => void) => {
    const opener = button(title, () => (panel.isOf(opener) ? panel.close() : open(opener)), GLYPHS[name])
    opener.setAttribute('aria-pressed', 'false')
    bar.append(opener)
    return opener
  }
  const near = reader.near && page.ground ? nearby(page, reader.near, overlay) : null
  const search = searchBox(page, (lonlat) => near?.found(lonlat))
  if (search) bar.append(search)
  if (near) near.opener = panelled('near', word('near'), near.open)
  if (controls.measure && page.ground) panelled('measure', word('measure'), measuring(page, overlay))
  if (controls.locate) bar.append(button(word('locate'), () => locate(page, near?.at), GLYPHS.locate))
  if (controls.layers || controls.ground) panelled('layers', word('layers'), layerList(page))
  if (controls.download && filesOf(edition).length > 0) panelled('download', word('download'), downloads(page))
  if (page.layers.some(({ layer, shapes }) => shapes && layer.columns)) panelled('table', word('table'), tableOf(page))
  if (controls.share) {
    const spoken = element('span', 'spoken')
    spoken.setAttribute('role', 'status')
    const copy = () =>
      void navigator.clipboard.writeText(window.location.href).then(() => {
        spoken.textContent = word('copied')
        note(main, word('copied'))
      })
    bar.append(button(word('share'), copy, GLYPHS.share), spoken)
  }
  if (controls.full_screen && document.fullscreenEnabled)
    bar.append(
      button(
        word('fullScreen'),
        () => void (document.fullscreenElement ? document.exitFullscreen() : host.requestFullscreen()),
        GLYPHS.fullScreen,
      ),
    )
  if (bar.childElementCount > 0) host.querySelector('.title')?.append(bar)
  near?.begin()
}

/** Something said for a moment. */
export function note(main: HTMLElement, text: string): void {
  const said = element('p', 'trouble', text)
  said.setAttribute('role', 'status')
  main.append(said)
  setTimeout(() => said.remove(), 4000)
}

function locate({ ground, main, map, edition }: Page, then: ((lonlat: number[]) => void) | undefined): void {
  const missing = () => note(main, word('notLocated'))
  if (!ground) return missing()
  navigator.geolocation.getCurrentPosition(({ coords }) => {
    const lonlat = [coords.longitude, coords.latitude]
    const place = ground.place(lonlat)
    const [west = 0, south = 0, east = 0, north = 0] = edition.box
    const [x = NaN, y = NaN] = place ?? []
    if (!(x >= west && x <= east && y >= south && y <= north)) return note(main, word('elsewhere'))
    map.getView().animate({ center: [x, y], duration: 250 })
    then?.(lonlat)
  }, missing)
}

/** Layers, each to be seen or not, and what lies below them. */
function layerList({ layers, panel, reader, below, asking }: Page): (opener: HTMLElement) => void {
  return (opener) => {
    const list = element('ul', 'choices')
    const line = (name: string, shown: boolean, show: (shown: boolean) => void) => {
      const label = element('label', '')
      const box = input('checkbox')
      box.checked = shown
      box.addEventListener('change', () => show(box.checked))
      label.append(box, element('span', '', name))
      const item = element('li', '')
      item.append(label)
      list.append(item)
    }
    if (reader.controls.layers)
      for (const { layer, all } of layers.toReversed())
        line(layer.name || layer.id, all[0]?.getVisible() ?? true, (shown) => {
          all.forEach((part) => part.setVisible(shown))
          const others = asking.said.hidden.filter((id) => id !== layer.id)
          asking.said.hidden = shown ? others : [...others, layer.id]
          asking.tell()
        })
    if (reader.controls.ground)
      line(word('ground'), below()[0]?.getVisible() ?? true, (shown) =>
        below().forEach((part) => part.setVisible(shown)),
      )
    panel.open(word('layers'), opener).append(list)
  }
}

const DATA = /\.(geojson|topojson|gpkg|fgb|parquet|kml|csv|zip|pmtiles|mbtiles|tif)$/

const filesOf = ({ files }: EditionPage) => files.filter((name) => DATA.test(name))

function downloads({ edition, panel }: Page): (opener: HTMLElement) => void {
  return (opener) => {
    const list = element('ul', 'files')
    for (const name of filesOf(edition)) {
      const link = document.createElement('a')
      link.href = name
      link.download = ''
      link.textContent = name
      const item = element('li', '')
      item.append(link)
      list.append(item)
    }
    panel.open(word('download'), opener).append(list)
  }
}
