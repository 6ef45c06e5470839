import type OlMap from 'ol/Map'
import { type Frame, levelOf } from '../frame'
import type { Edition, FeatureLine } from './edition'
import { element } from './element'

/** Cards of features: by pressing one on the map, and one after the other by keys. */
export function cardsOn(map: OlMap, main: HTMLElement, edition: Edition, frame: Frame, still: boolean): void {
  const card = element('aside', 'card')
  card.hidden = true
  card.setAttribute('aria-label', 'Card')
  const spoken = element('p', 'spoken')
  spoken.setAttribute('role', 'status')
  main.append(card, spoken)
  const target = map.getTargetElement() as HTMLElement
  const view = map.getView()
  let asked = 0
  let listed: FeatureLine[] = []
  let listedFor = ''
  let at = -1

  function close(): void {
    if (card.hidden) return
    const inside = card.contains(document.activeElement)
    card.hidden = true
    if (inside) target.focus()
  }

  async function open(x: number, y: number): Promise<void> {
    const mine = ++asked
    const found = await fetch(`${edition.base}card?x=${x}&y=${y}&zoom=${levelOf(view, frame)}`)
      .then((answer) => answer.json() as Promise<{ cards: { html: string }[] }>)
      .catch(() => ({ cards: [{ html: '<p>The card cannot be reached just now.</p>' }] }))
    if (mine !== asked) return
    card.replaceChildren()
    card.hidden = found.cards.length === 0
    if (card.hidden) return
    const shut = element('button', 'close', '×')
    shut.setAttribute('aria-label', 'Close the card')
    shut.addEventListener('click', close)
    card.append(element('h2', 'spoken', 'Card'), shut)
    for (const one of found.cards) {
      const body = element('section', 'body')
      body.innerHTML = one.html // sanitised by the server
      card.append(body)
    }
    spoken.textContent = [...card.querySelectorAll<HTMLElement>('.body')].map((one) => one.innerText.trim()).join('. ')
  }

  /** Features from the top of what is seen to its bottom; asked for again where the map was moved. */
  async function step(by: 1 | -1): Promise<void> {
    const extent = view.calculateExtent(map.getSize())
    const [left = 0, bottom = 0, right = 0, top = 0] = extent.map(String)
    const query = new URLSearchParams({ left, bottom, right, top } as Record<string, string>).toString()
    if (query !== listedFor) {
      listedFor = query
      at = by > 0 ? -1 : 0
      listed = await fetch(`${edition.base}features?${query}`)
        .then((answer) => answer.json() as Promise<{ features: FeatureLine[] }>)
        .then((told) => told.features)
        .catch(() => [])
    }
    if (listed.length === 0) {
      spoken.textContent = 'No feature with a card is in view.'
      return
    }
    at = (at + by + listed.length) % listed.length
    const one = listed[at]
    if (!one) return
    await open(one.x, one.y)
    spoken.textContent = `${at + 1} of ${listed.length}: ${spoken.textContent ?? ''}`
    mark(one)
  }

  function mark(one: FeatureLine): void {
    const pixel = map.getPixelFromCoordinate([one.x, one.y])
    ring.hidden = !pixel
    if (pixel) ring.style.transform = `translate(${pixel[0]}px, ${pixel[1]}px)`
  }
  const ring = element('div', still ? 'ring still' : 'ring')
  ring.hidden = true
  main.append(ring)
  map.on('movestart', () => {
    ring.hidden = true
  })

  map.on('singleclick', (event) => {
    const [x = 0, y = 0] = event.coordinate
    ring.hidden = true
    void open(x, y)
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
}
