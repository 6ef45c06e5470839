import OlMap from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import Zoom from 'ol/control/Zoom'
import { defaults } from 'ol/interaction/defaults'
import { fromLonLat } from 'ol/proj'
import 'ol/ol.css'
import './reader.css'
import type { EditionPage } from '../api/types'
import { compose } from '../painter/blending'
import { shown } from '../painter/extent'
import { type Frame, frameFrom, viewOptions } from '../painter/frame'
import { cardsOn } from './cards'
import { element } from './element'
import { layGround } from './groundOf'
import { groupedLayers, labelsOf, layersOf } from './layers'
import { opensOn } from './opening'
import { placeFrom, type Start } from './place'
import { metresAt } from './scale'

const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches

/** Draw the published map into the page, which has its title, key and credits already. */
async function show(host: HTMLElement, main: HTMLElement): Promise<void> {
  const key = host.querySelector<HTMLDetailsElement>('.key')
  if (key) key.open = window.innerWidth > 620 && window.innerHeight > 260
  const letters = new FontFace('Grey Latch Label', 'url(page/letters.woff)', { weight: '500' }).load()
  const answer = await fetch('edition.json').catch(() => null)
  if (!answer?.ok) {
    main.append(element('p', 'nothing', 'The map cannot be reached just now.'))
    return
  }
  const edition = (await answer.json()) as EditionPage
  const target = element('div', 'map')
  target.tabIndex = 0
  target.setAttribute('role', 'application')
  target.setAttribute('aria-label', `Map: ${edition.title}`)
  target.setAttribute('aria-describedby', 'how')
  const how = element('p', 'spoken', HOW)
  how.id = 'how'
  main.append(target, how)
  target.style.background = edition.ground ?? 'transparent'
  const frame = frameFrom(edition.frame)
  const layers = layersOf(edition, frame)
  const map = mapOf(target, edition, frame)
  for (const entry of groupedLayers(edition, layers)) map.addLayer(entry)
  map.on('postrender', () => layers.forEach(({ layer }) => compose(map, layer)))
  void layGround(map, edition)
  const measure = () => {
    frame.metres = metresAt(edition, map.getView().getCenter() ?? []) ?? frame.metres
  }
  measure()
  map.on('moveend', measure)
  opensOn(map, layers)
  if (edition.cards.length > 0) cardsOn(map, main, edition, layers, frame)
  // A label drawn before its letters are there would stay as it was.
  await letters.then((face) => document.fonts.add(face)).catch(() => undefined)
  const labels = labelsOf(edition, frame)
  if (labels) map.addLayer(labels)
  const outcomes = await Promise.allSettled(layers.map(({ ready }) => ready))
  if (outcomes.some(({ status }) => status === 'rejected'))
    main.append(element('p', 'trouble', 'A part of this map cannot be reached just now.'))
  map.once('rendercomplete', () => host.setAttribute('data-idle', 'true'))
  map.render()
}

function mapOf(target: HTMLElement, edition: EditionPage, frame: Frame): OlMap {
  const start = placeFrom(window.location.hash)
  const opening = openingOf(edition, frame, start)
  const map = new OlMap({
    target,
    interactions: defaults({ altShiftDragRotate: false, pinchRotate: false }),
    controls: [
      new Zoom({ zoomInTipLabel: 'Closer', zoomOutTipLabel: 'Further', duration: STILL ? 0 : 250 }),
      ...(edition.scale_bar ? [new ScaleLine()] : []),
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
  // At first the whole map, whatever the size of the window.
  if (!start)
    map.getView().fit(edition.box, { padding: [24, 24, 24, 24], minResolution: frame.resolution(edition.max_zoom) })
  return map
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
