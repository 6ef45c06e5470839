import OlMap from 'ol/Map'
import View from 'ol/View'
import Zoom from 'ol/control/Zoom'
import { defaults } from 'ol/interaction/defaults'
import { fromLonLat, toLonLat } from 'ol/proj'
import 'ol/ol.css'
import './reader.css'
import type { EditionPage } from '../api/types'
import { compose } from '../painter/blending'
import { shown } from '../painter/extent'
import { furnitureOn } from '../painter/furniture'
import { type Frame, frameFrom, levelOf, viewOptions } from '../painter/frame'
import { addressOf, saidIn } from './address'
import { Asking } from './asking'
import { cardsOn } from './cards'
import { resolutionFor, roomAround } from './closeness'
import { element } from './element'
import { tellHost, tellOfFilters } from './events'
import { groundOf } from './ground'
import { layGround } from './groundOf'
import { groupedLayers, labelsOf, layersOf } from './layers'
import { loadAsked, loadRest } from './loading'
import { opensOn } from './opening'
import { placeFrom, type Start } from './place'
import { metresAt, northAt } from './scale'
import { stripFor } from './strip'
import { Panel, toolsOf } from './tools'
import { speak } from './words'

const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches
const PAUSE = 250

/** Draw the published map into the page, which has its title, key and credits already. */
async function show(host: HTMLElement, main: HTMLElement): Promise<void> {
  host.dataset.without = saidIn(window.location.hash).without.join(' ')
  const key = host.querySelector<HTMLDetailsElement>('.key')
  if (key) key.open = window.innerWidth > 620 && window.innerHeight > 260
  const letters = [faceFrom('sans-500', 'page/letters.woff')]
  const answer = await fetch('edition.json').catch(() => null)
  if (!answer?.ok) {
    main.append(element('p', 'nothing', 'The map cannot be reached just now.'))
    return
  }
  const edition = (await answer.json()) as EditionPage
  // Editions that were published before readers could ask anything have no such part.
  const reader = edition.reader ?? null
  if (reader) speak(reader.words, reader.language)
  const target = element('div', 'map')
  target.tabIndex = 0
  target.setAttribute('role', 'application')
  target.setAttribute('aria-label', `Map: ${edition.title}`)
  target.setAttribute('aria-describedby', 'how')
  const how = element('p', 'spoken', HOW)
  how.id = 'how'
  main.append(target, how)
  const lay = onWholePixels(target, main)
  target.style.background = edition.ground ?? 'transparent'
  const frame = frameFrom(edition.frame)
  const layers = layersOf(edition, frame)
  const map = mapOf(target, edition, frame)
  map.on('postrender', () => layers.forEach(({ layer }) => compose(map, layer)))
  void layGround(map, edition)
  furnitureOn(map, frame)({ scaleBar: edition.scale_bar, northArrow: edition.north?.arrow ?? null })
  const measure = () => {
    const middle = map.getView().getCenter() ?? []
    frame.metres = metresAt(edition, middle) ?? frame.metres
    frame.north = northAt(edition, middle)
  }
  measure()
  map.on('moveend', measure)
  opensOn(map, layers)
  const cards = cardsOn(map, main, edition, layers, frame)
  // What readers ask of is fetched beside the ink, not after it.
  const asking = new Asking()
  const asked = reader ? loadAsked(asking, reader, layers) : Promise.resolve(true)
  // A label drawn before its letters are there would stay as it was.
  letters.push(...Object.entries(edition.labels?.faces ?? {}).map(([name, file]) => faceFrom(name, file)))
  const labels = labelsOf(edition, frame)
  await Promise.all(letters)
  const outcomes = await Promise.allSettled(layers.map(({ ready }) => ready))
  let failed = outcomes.some(({ status }) => status === 'rejected')
  if (reader) {
    asking.labels = labels
    asking.said = saidIn(window.location.hash)
    failed = !(await asked) || failed
    stripFor(asking, reader, host)
    toolsOf(
      {
        map,
        main,
        edition,
        reader,
        layers,
        asking,
        ground: groundOf(edition, frame),
        loadRest: () => loadRest(asking, layers),
        below: () => map.getAllLayers().filter((each) => (each.getZIndex() ?? 0) <= 0),
        showCard: (layer, fid, closer = false) => {
          const columns = asking.layers.get(layer)?.columns
          const row = columns?.fid.indexOf(fid) ?? -1
          if (columns && row >= 0) {
            const place: [number, number] = [columns.x[row] ?? 0, columns.y[row] ?? 0]
            const seen = map.getView().getResolution() ?? 1
            const closest = frame.resolution(edition.max_zoom)
            const wanted = closer ? resolutionFor(roomAround(columns, row), seen, closest) : seen
            if (wanted < seen) map.getView().animate({ center: place, resolution: wanted, duration: STILL ? 0 : 250 })
            else bringIntoView(map, place)
          }
          cards.show(layer, fid)
        },
        panel: new Panel(main),
      },
      host,
    )
    for (const { layer, all } of layers)
      if (asking.said.hidden.includes(layer.id)) all.forEach((part) => part.setVisible(false))
    asking.settle()
    // What readers ask with takes room of the map.
    lay()
    if (!placeFrom(window.location.hash)) showWhole(map, edition, frame)
    const address = () => addressNow(map, frame, asking)
    keepAddress(map, asking, address)
    tellOfFilters(asking, address)
  }
  // Nothing is fetched for a map that is about to get another size.
  for (const entry of groupedLayers(edition, layers)) map.addLayer(entry)
  if (labels) map.addLayer(labels)
  if (failed) main.append(element('p', 'trouble', 'A part of this map cannot be reached just now.'))
  map.once('rendercomplete', () => {
    host.setAttribute('data-idle', 'true')
    tellHost({ kind: 'ready', title: edition.title, edition: new URL('.', window.location.href).href })
  })
  map.render()
}

/** A typeface of the edition; where it can't be had, its letters are drawn in another. */
async function faceFrom(name: string, file: string): Promise<void> {
  if ([...document.fonts].some(({ family }) => family === name)) return
  const face = new FontFace(name, `url(${file})`)
  document.fonts.add(face)
  await face.load().catch(() => undefined)
}

/** The map has whole pixels, wherever what stands around it ends: between two of them it would be blurred. */
function onWholePixels(target: HTMLElement, main: HTMLElement): () => void {
  const lay = () => {
    const { left, top, right, bottom } = main.getBoundingClientRect()
    const [x, y] = [Math.ceil(left), Math.ceil(top)]
    Object.assign(target.style, {
      left: `${x - left}px`,
      top: `${y - top}px`,
      width: `${Math.floor(right) - x}px`,
      height: `${Math.floor(bottom) - y}px`,
    })
  }
  new ResizeObserver(lay).observe(main)
  lay()
  return lay
}

/** A place that is not seen comes to the middle. */
function bringIntoView(map: OlMap, place: [number, number]): void {
  const [west = 0, south = 0, east = 0, north = 0] = map.getView().calculateExtent(map.getSize())
  const [x, y] = place
  const rim = 0.1
  const inside =
    x > west + rim * (east - west) &&
    x < east - rim * (east - west) &&
    y > south + rim * (north - south) &&
    y < north - rim * (north - south)
  if (!inside) map.getView().animate({ center: place, duration: STILL ? 0 : 250 })
}

/** What is seen and what is chosen now, as it stands behind the # of an address. */
function addressNow(map: OlMap, frame: Frame, asking: Asking): string {
  const [x = 0, y = 0] = map.getView().getCenter() ?? []
  const zoom = levelOf(map.getView(), frame)
  const [lon = 0, lat = 0] = toLonLat([x, y])
  const view: Start = frame.round ? { zoom, lat, lon } : { zoom, x, y }
  return addressOf(view, asking.said)
}

/** What is seen and what is chosen stand in the address, which can be sent. */
function keepAddress(map: OlMap, asking: Asking, address: () => string): void {
  let timer: ReturnType<typeof setTimeout> | undefined
  const write = () => {
    window.history.replaceState(null, '', address())
  }
  const later = () => {
    clearTimeout(timer)
    timer = setTimeout(write, PAUSE)
  }
  asking.hear(later)
  map.on('moveend', later)
  // Another address is another choice: what was written by hand is shown.
  window.addEventListener('hashchange', () => window.location.reload())
}

function mapOf(target: HTMLElement, edition: EditionPage, frame: Frame): OlMap {
  const start = placeFrom(window.location.hash)
  const opening = openingOf(edition, frame, start)
  const controls = edition.reader?.controls
  const map = new OlMap({
    target,
    // All at once: tiles that lie beside one another in their archive come in one piece.
    maxTilesLoading: 64,
    interactions: defaults({
      altShiftDragRotate: false,
      pinchRotate: false,
      mouseWheelZoom: controls?.wheel_zoom ?? true,
    }),
    controls: [
      ...((controls?.zoom ?? true)
        ? [new Zoom({ zoomInTipLabel: 'Closer', zoomOutTipLabel: 'Further', duration: STILL ? 0 : 250 })]
        : []),
    ],
    view: new View({
      ...viewOptions(frame, edition.max_zoom + 2),
      maxResolution: frame.resolution(Math.max(0, edition.min_zoom - 3)),
      center: opening.centre,
      resolution: frame.resolution(opening.zoom),
      constrainResolution: false,
      // Two zooms apart on any screen: what was made for the first level may be shown smaller than it is.
      smoothResolutionConstraint: false,
    }),
  })
  if (!start) showWhole(map, edition, frame)
  return map
}

/** At first the whole map, whatever the size of the window. */
function showWhole(map: OlMap, edition: EditionPage, frame: Frame): void {
  map.updateSize()
  map.getView().fit(edition.box, { padding: [24, 24, 24, 24], minResolution: frame.resolution(edition.max_zoom) })
}

/** Where the page opens before it shows the whole map: what its address says, or else the sheet's start. */
function openingOf(edition: EditionPage, frame: Frame, start: Start | null): { centre: number[]; zoom: number } {
  if (start && 'x' in start) return { centre: [start.x, start.y], zoom: start.zoom }
  const { lon, lat, zoom } = start ?? edition.view
  if (frame.round) return { centre: fromLonLat([lon, shown(lat)]), zoom }
  const [left = 0, bottom = 0, right = 0, top = 0] = edition.box
  return { centre: edition.start ?? [(left + right) / 2, (bottom + top) / 2], zoom }
}

const HOW =
  'Arrow keys move the map, plus and minus zoom. N and P go to the next and previous feature and read its card, Escape closes the card.'

const host = document.getElementById('reader')
const main = host?.querySelector('main')
if (host && main) void show(host, main)
