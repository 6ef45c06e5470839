import OlMap from 'ol/Map'
import View from 'ol/View'
import ScaleLine from 'ol/control/ScaleLine'
import Zoom from 'ol/control/Zoom'
import { fromLonLat, toLonLat } from 'ol/proj'
import 'ol/ol.css'
import '../fonts.css'
import './embed.css'
import { keyOf } from './key'
import { placeFrom } from './place'
import { editionTiles } from './tiles'
import type { Edition } from './edition'

/** The published map in anybody's page: tiles, key, cards and credits of one edition. */
async function show(host: HTMLElement): Promise<void> {
  const here = window.location.pathname.replace(/\/?$/, '/')
  const answer = await fetch(`${here}edition.json`)
  if (!answer.ok) {
    host.textContent = 'There is no map at this address.'
    return
  }
  const edition = (await answer.json()) as Edition
  document.title = edition.title
  host.append(element('div', 'map'), element('header', 'title', edition.title), keyOf(edition.key), credits(edition))
  const target = host.querySelector<HTMLElement>('.map')
  if (!target) return
  target.style.background = edition.ground ?? 'transparent'
  // The middle of the view is the middle of what the key leaves free.
  const key = host.querySelector<HTMLDetailsElement>('.key')
  const covered = key?.open && !key.hidden ? key.offsetWidth : 0
  const start = placeFrom(window.location.hash) ?? edition.view
  const map = new OlMap({
    target,
    controls: [new Zoom(), ...(edition.scale_bar ? [new ScaleLine()] : [])],
    layers: [editionTiles(edition)],
    view: new View({
      center: fromLonLat([start.lon, start.lat]),
      zoom: start.zoom,
      padding: [0, covered, 0, 0],
      minZoom: Math.max(0, edition.min_zoom - 1),
      maxZoom: edition.max_zoom + 2,
      constrainResolution: false,
    }),
  })
  map.on('loadend', () => host.setAttribute('data-idle', 'true'))
  if (edition.cards.length > 0) cardsOn(map, host, edition)
}

function cardsOn(map: OlMap, host: HTMLElement, edition: Edition): void {
  const card = element('aside', 'card')
  card.hidden = true
  card.setAttribute('aria-live', 'polite')
  host.append(card)
  let asked = 0
  map.on('singleclick', (event) => {
    const mine = ++asked
    const [lon = 0, lat = 0] = toLonLat(event.coordinate)
    const zoom = map.getView().getZoom() ?? 0
    void fetch(`${edition.base}card?lon=${lon}&lat=${lat}&zoom=${zoom}`)
      .then((answer) => answer.json() as Promise<{ cards: { html: string }[] }>)
      .then(({ cards }) => {
        if (mine !== asked) return
        card.replaceChildren()
        card.hidden = cards.length === 0
        if (card.hidden) return
        const close = element('button', 'close', '×')
        close.setAttribute('aria-label', 'Close')
        close.addEventListener('click', () => {
          card.hidden = true
        })
        card.append(close)
        for (const one of cards) {
          const body = element('section', 'body')
          body.innerHTML = one.html // sanitised by the server
          card.append(body)
        }
      })
  })
  document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape') card.hidden = true
  })
}

function credits(edition: Edition): HTMLElement {
  const made = element('footer', 'credits')
  made.textContent = [edition.credits, edition.source_date].filter(Boolean).join(' · ')
  return made
}

function element(tag: string, className: string, text = ''): HTMLElement {
  const made = document.createElement(tag)
  made.className = className
  made.textContent = text
  return made
}

const host = document.getElementById('embed')
if (host) void show(host)
