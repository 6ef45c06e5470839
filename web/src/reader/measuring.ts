import { button, element } from './element'
import type { Overlay } from './overlay'
import { askPlaces } from './pointing'
import type { Page } from './tools'
import { number, word } from './words'

/** Lengths and areas on the ground, between places that are pressed one after the other. */
export function measuring({ map, panel, ground }: Page, overlay: Overlay): (opener: HTMLElement) => void {
  return (opener) => {
    let places: number[][] = []
    const summary = element('p', 'taken', word('measureHow'))
    summary.setAttribute('role', 'status')
    async function show(): Promise<void> {
      const { measured } = await import('./geodesic')
      const lonlat = places.flatMap((place) => {
        const there = ground?.lonlat(place)
        return there ? [there] : []
      })
      overlay.clear()
      places.forEach((place) => overlay.place(place))
      if (places.length > 1) overlay.line(places)
      const { length, area } = measured(lonlat)
      const lines = [
        length > 0 && word('length', { length: inMetres(length) }),
        area > 0 && word('area', { area: inSquares(area) }),
      ]
      summary.textContent = lines.filter(Boolean).join(' · ') || word('measureHow')
    }
    const body = panel.open(word('measure'), opener, () => {
      end()
      overlay.clear()
    })
    body.append(
      summary,
      button(word('anew'), () => {
        places = []
        void show()
      }),
    )
    const end = askPlaces(map, (place) => {
      places.push(place)
      void show()
    })
  }
}

export const inMetres = (metres: number) =>
  metres < 1000 ? `${number(metres, 0)} m` : `${number(metres / 1000, metres < 100_000 ? 2 : 0)} km`

export const inSquares = (area: number) =>
  area < 10_000
    ? `${number(area, 0)} m²`
    : area < 1e6
      ? `${number(area / 10_000, 2)} ha`
      : `${number(area / 1e6, 2)} km²`
