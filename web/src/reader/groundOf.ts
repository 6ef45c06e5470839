import type OlMap from 'ol/Map'
import type { EditionPage, GroundFile } from '../api/types'
import { groundOn } from '../painter/groundOn'

/** Lay the edition's ground below its layers; editions without one have no such file. */
export async function layGround(map: OlMap, edition: EditionPage): Promise<void> {
  if (!edition.files.includes('ground.json')) return
  const file = await fetch('ground.json')
    .then((answer) => answer.json() as Promise<GroundFile>)
    .catch(() => null)
  if (!file) return
  const ground = groundOn(map)
  const style = { sea: file.sea, graticule: file.style }
  const show = () => {
    const wanted = (map.getView().getResolution() ?? 1) * file.apart
    const suits = file.graticules.find((lines) => lines.step >= wanted) ?? file.graticules.at(-1)
    ground.show({ outline: file.outline, lines: suits?.lines ?? [], style })
  }
  map.on('moveend', show)
  show()
}
