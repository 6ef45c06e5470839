import type OlMap from 'ol/Map'
import type { Coordinate } from 'ol/coordinate'
import { type Frame, levelOf } from '../painter/frame'
import { element } from './element'

/** A feature that the server knows to have a card, and where it is asked for. */
export interface Asked {
  x: number
  y: number
}

/** Cards of layers that came as tiles: only the server that published them knows what lies where. */
export interface CardServer {
  cardsAt: (place: Coordinate) => Promise<string[]>
  inView: () => Promise<Asked[]>
  mark: (feature: Asked | null) => void
}

export function serverOf(map: OlMap, frame: Frame, main: HTMLElement): CardServer {
  const ring = element('div', 'ring')
  ring.hidden = true
  main.append(ring)
  map.on('movestart', () => {
    ring.hidden = true
  })
  return {
    cardsAt: async ([x = 0, y = 0]) => {
      const answer = await fetch(`card?x=${x}&y=${y}&zoom=${levelOf(map.getView(), frame)}`)
      return ((await answer.json()) as { cards: { html: string }[] }).cards.map(({ html }) => html)
    },
    inView: async () => {
      const [left = 0, bottom = 0, right = 0, top = 0] = map.getView().calculateExtent(map.getSize())
      const answer = await fetch(`features?left=${left}&bottom=${bottom}&right=${right}&top=${top}`)
      return answer.ok ? ((await answer.json()) as { features: Asked[] }).features : []
    },
    mark: (feature) => {
      const pixel = feature && map.getPixelFromCoordinate([feature.x, feature.y])
      ring.hidden = !pixel
      if (pixel) ring.style.transform = `translate(${pixel[0]}px, ${pixel[1]}px)`
    },
  }
}
