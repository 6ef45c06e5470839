import type OlMap from 'ol/Map'
import type { EditionPage, PageLayer } from '../api/types'
import { ringAround } from '../painter/pens'
import { GroupLayer, isSeen } from '../painter/groupLayer'
import { ShapeTileLayer } from '../painter/shapeTiles'
import { type Asked, serverOf } from './asked'
import type { Frame } from '../painter/frame'
import { button, element } from './element'
import { tellHost } from './events'
import type { PageLayerOnMap } from './layers'
import { isPointing } from './pointing'
import { inReadingOrder } from './readingOrder'
import { word } from './words'

/** A feature with a card on the map, and where of it is seen, in px. */
interface Held {
  layer: PageLayer
  drawn: ShapeTileLayer
  row: number
}

const RING_ABOVE = 2000

/** Cards that others ask for. */
export interface Cards {
  /** Ring a feature that the page draws, and show its card where it has one. */
  show: (layer: string, fid: number) => void
}

/** Cards of features: by pressing one on the map, and one after the other by keys. */
export function cardsOn(
  map: OlMap,
  main: HTMLElement,
  edition: EditionPage,
  layers: PageLayerOnMap[],
  frame: Frame,
): Cards {
  const card = element('aside', 'card')
  card.hidden = true
  card.setAttribute('aria-label', word('card'))
  const spoken = element('p', 'spoken')
  spoken.setAttribute('role', 'status')
  main.append(card, spoken)
  const target = map.getTargetElement() as HTMLElement
  const carded = layers.flatMap(({ layer, shapes }) => (layer.cards && shapes ? [{ layer, drawn: shapes }] : []))
  const known = new Set(carded.map(({ layer }) => layer.id))
  const server = edition.cards.some((id) => !known.has(id)) ? serverOf(map, frame, main) : null
  let asked = 0
  let stepped = { seen: '', order: [] as (Held | Asked)[], at: -1 }
  let ring: ShapeTileLayer | null = null

  function close(unmarked = true): void {
    if (card.hidden) return
    const inside = card.contains(document.activeElement)
    card.hidden = true
    if (unmarked) mark(null)
    if (inside) target.focus()
  }

  /** Show what the cards say as soon as all of them are there, unless something else was asked for meanwhile. */
  async function open(cards: Promise<string[]>): Promise<void> {
    const mine = ++asked
    const bodies = await cards.catch(() => ['<p>The card cannot be reached just now.</p>'])
    if (mine !== asked) return
    card.replaceChildren()
    card.hidden = bodies.length === 0
    if (card.hidden) return
    const shut = button('×', () => close())
    shut.className = 'close'
    shut.setAttribute('aria-label', word('closeCard'))
    card.append(element('h2', 'spoken', word('card')), shut)
    const pages = bodies.map((html) => {
      const body = element('section', 'body')
      body.innerHTML = html // made safe when the map was published
      return body
    })
    card.append(...pages, ...(pages.length > 1 ? [pagerOf(pages)] : []))
    spoken.textContent = [...card.querySelectorAll<HTMLElement>('.body')]
      .map((body) => body.innerText.trim())
      .join('. ')
  }

  /** Features from the top of what is seen to its bottom; found again where the map was moved. */
  async function step(by: 1 | -1): Promise<void> {
    const seen = map.getView().calculateExtent(map.getSize()).join()
    if (seen !== stepped.seen) stepped = { seen, order: await inView(), at: by > 0 ? -1 : 0 }
    const { order } = stepped
    if (order.length === 0) {
      spoken.textContent = 'No feature with a card is in view.'
      return
    }
    stepped.at = (stepped.at + by + order.length) % order.length
    const feature = order[stepped.at]
    if (!feature) return
    if ('drawn' in feature) {
      mark(feature)
      await open(cardOf(feature).then((html) => [html]))
    } else {
      server?.mark(feature)
      await open(server?.cardsAt([feature.x, feature.y]) ?? Promise.resolve([]))
    }
    spoken.textContent = `${stepped.at + 1} of ${order.length}: ${spoken.textContent}`
  }

  async function inView(): Promise<(Held | Asked)[]> {
    if (server) return server.inView()
    const [, height = 0] = map.getSize() ?? []
    const ratio = (map as unknown as { pixelRatio_: number }).pixelRatio_
    const seen = carded.flatMap(({ layer, drawn }) => drawn.seen(ratio).map((shape) => ({ ...shape, layer, drawn })))
    return inReadingOrder(seen, height)
  }

  function mark(feature: Held | null): void {
    if (ring) map.removeLayer(ring)
    ring = null
    const source = feature?.drawn.getSource()
    if (!feature || !source) return
    ring = new ShapeTileLayer({ className: 'sheet-highlight', source, zIndex: RING_ABOVE })
    ring.setPens(ringAround(feature.row))
    map.addLayer(ring)
  }

  /** Whether anything that has cards comes as pictures at this level. */
  const tooFar = () => carded.some(({ drawn }) => !isSeen(drawn, map))
  /** Which question was answered by asking to come closer: who does needs no telling any more. */
  let askedCloser = -1
  map.on('moveend', () => {
    if (askedCloser === asked && !tooFar()) close()
  })
  map.on('singleclick', (event) => {
    if (isPointing(map)) return
    const held: Held[] = []
    map.forEachFeatureAtPixel(
      event.pixel,
      (shape, on) => {
        const hit = carded.find(({ drawn }) => drawn === (on as unknown))
        // Where the world goes round, a layer is asked for each of its turns.
        const known = held.some(({ layer }) => layer === hit?.layer)
        if (hit && !known) held.push({ ...hit, row: Number(shape.getId()) })
      },
      {
        layerFilter: (layer) => layer instanceof GroupLayer || carded.some(({ drawn }) => drawn === (layer as unknown)),
      },
    )
    mark(held[0] ?? null)
    tellHost({ kind: 'chosen', features: held.map(({ layer, row }) => ({ layer: layer.id, fid: row })) })
    server?.mark(null)
    if (server) void open(server.cardsAt(event.coordinate))
    else if (held.length === 0 && tooFar()) {
      void open(Promise.resolve(['<p>Come closer: from here they are too many to be told apart.</p>']))
      askedCloser = asked
    } else void open(Promise.all(held.map(cardOf)))
  })
  document.addEventListener('keydown', (event) => {
    if (event.key === 'Escape') close()
    if (event.ctrlKey || event.metaKey || event.altKey || !target.contains(document.activeElement)) return
    if (event.key === 'n' || event.key === 'N') void step(1)
    if (event.key === 'p' || event.key === 'P') void step(-1)
    if (event.key === 'Enter' && !card.hidden) {
      event.preventDefault() // or the button would be pressed by the same key
      card.querySelector('button')?.focus()
    }
  })
  return {
    show: (id, fid) => {
      const on = layers.find(({ layer }) => layer.id === id)
      if (!on?.shapes) return
      const pressed = { layer: on.layer, drawn: on.shapes, row: fid }
      mark(pressed)
      tellHost({ kind: 'chosen', features: [{ layer: id, fid }] })
      if (on.layer.cards) void open(cardOf(pressed).then((html) => [html]))
      else close(false)
    },
  }
}

/** Several cards one after the other, where several features lie at one place. */
function pagerOf(pages: HTMLElement[]): HTMLElement {
  let at = 0
  const place = element('span', '')
  place.setAttribute('role', 'status')
  const go = (by: number) => {
    at = (at + by + pages.length) % pages.length
    pages.forEach((page, i) => (page.hidden = i !== at))
    place.textContent = word('page', { n: at + 1, of: pages.length })
  }
  const [before, next] = [button('‹', () => go(-1)), button('›', () => go(1))]
  before.setAttribute('aria-label', word('before'))
  next.setAttribute('aria-label', word('next'))
  const pager = element('div', 'pager')
  pager.append(before, place, next)
  go(0)
  return pager
}

const blocks = new Map<string, Promise<Record<string, string>>>()

/** The card of a feature, out of the block that holds it. */
async function cardOf({ layer, row }: Held): Promise<string> {
  const number = (layer.cards ?? []).findLastIndex((first) => first <= row)
  const address = `cards/${layer.id}/${number}.json`
  let block = blocks.get(address)
  if (!block) {
    block = fetch(address).then((answer) => answer.json() as Promise<Record<string, string>>)
    blocks.set(address, block)
    block.catch(() => blocks.delete(address))
  }
  return (await block)[row] ?? ''
}
