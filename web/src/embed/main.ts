import OlMap from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import Zoom from 'ol/control/Zoom'
import { defaults } from 'ol/interaction/defaults'
import { fromLonLat } from 'ol/proj'
import 'ol/ol.css'
import '../fonts.css'
import './embed.css'
import { mapExtent, shown } from '../extent'
import { type Frame, frameFrom, MERCATOR, viewOptions } from '../frame'
import { cardsOn } from './cards'
import { element } from './element'
import { layGround } from './groundOf'
import { keyOf } from './key'
import { placeFrom, type Start } from './place'
import { metresAt } from './scale'
import { editionTiles } from './tiles'
import type { Edition } from './edition'

const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches

/** The published map in anybody's page: title, tiles, key, cards and credits of one edition, none of them over another. */
async function show(host: HTMLElement): Promise<void> {
  const here = window.location.pathname.replace(/\/?$/, '/')
  const answer = await fetch(`${here}edition.json`).catch(() => null)
  if (!answer?.ok) {
    host.append(
      element('p', 'nothing', answer ? 'There is no map at this address.' : 'The map cannot be reached just now.'),
    )
    return
  }
  const edition = (await answer.json()) as Edition
  document.title = edition.title
  const header = element('header', 'title')
  const heading = element('h1', '', edition.title)
  heading.title = edition.title
  header.append(heading)
  const main = element('main', 'sheet')
  const target = element('div', 'map')
  target.tabIndex = 0
  target.setAttribute('role', 'application')
  target.setAttribute('aria-label', `Map: ${edition.title}`)
  target.setAttribute('aria-describedby', 'how')
  const how = element('p', 'spoken', HOW)
  how.id = 'how'
  main.append(target, how)
  const key = keyOf(edition.key)
  host.append(header, main, ...(edition.key.length > 0 ? [beside(key)] : []), credits(edition))
  target.style.background = edition.ground ?? 'transparent'
  const frame = edition.frame ? frameFrom(edition.frame) : MERCATOR
  const start = placeFrom(window.location.hash)
  const opening = openingOf(edition, frame, start)
  const map = new OlMap({
    target,
    interactions: defaults({ altShiftDragRotate: false, pinchRotate: false }),
    controls: [
      new Zoom({ zoomInTipLabel: 'Closer', zoomOutTipLabel: 'Further', duration: STILL ? 0 : 250 }),
      ...(edition.scale_bar ? [new ScaleLine()] : []),
    ],
    layers: [editionTiles(edition, frame)],
    view: new View({
      ...viewOptions(frame, edition.max_zoom + 2),
      maxResolution: frame.resolution(Math.max(0, edition.min_zoom - 3)),
      center: opening.centre,
      resolution: frame.resolution(opening.zoom),
      constrainResolution: false,
      // Two zooms apart on any screen: tiles of the first level may be shown smaller than they are.
      smoothResolutionConstraint: false,
    }),
  })
  if (!start) {
    // At first the whole map, whatever the size of the window.
    const whole = edition.box ?? mapExtent(edition.bounds)
    map.getView().fit(whole, { padding: [10, 10, 10, 10], minResolution: frame.resolution(edition.max_zoom) })
  }
  void layGround(map, edition)
  const measure = () => {
    frame.metres = metresAt(edition, map.getView().getCenter() ?? []) ?? frame.metres
  }
  measure()
  map.on('moveend', measure)
  map.on('loadend', () => host.setAttribute('data-idle', 'true'))
  if (edition.cards.length > 0) cardsOn(map, main, edition, frame, STILL)
}

/** Where the page opens before it shows the whole map: what its address says, or else the sheet's start. */
function openingOf(edition: Edition, frame: Frame, start: Start | null): { centre: number[]; zoom: number } {
  if (start && 'x' in start) return { centre: [start.x, start.y], zoom: start.zoom }
  const { lon, lat, zoom } = start ?? edition.view
  if (frame.round) return { centre: fromLonLat([lon, shown(lat)]), zoom }
  const [left = 0, bottom = 0, right = 0, top = 0] = edition.box ?? frame.extent
  return { centre: edition.start ?? [(left + right) / 2, (bottom + top) / 2], zoom }
}

/** The key as a part of the page that has a name. */
function beside(key: HTMLElement): HTMLElement {
  const made = element('aside', 'beside')
  made.setAttribute('aria-label', 'Key')
  made.append(key)
  return made
}

const HOW =
  'Arrow keys move the map, plus and minus zoom. N and P go to the next and previous feature and read its card, Escape closes the card.'

function credits(edition: Edition): HTMLElement {
  const made = element('footer', 'credits')
  made.textContent = [edition.credits, edition.source_date].filter(Boolean).join(' · ')
  made.title = made.textContent
  return made
}

const host = document.getElementById('embed')
if (host) void show(host)
