import type OlMap from 'ol/Map'
import type { Coordinate } from 'ol/coordinate'
import type { GraticuleLine } from '../ground'
import { groundOn } from '../groundOn'
import type { Edition } from './edition'

/** The file with what lies below an edition's tiles. */
interface GroundFile {
  sea: string | null
  outline: Coordinate[][]
  style: { colour: string; width: number; labelled: boolean; step: number | null } | null
  /** Lines by degrees between them, the closest first. */
  graticules: { step: number; lines: GraticuleLine[] }[]
  /** Degrees that lines are apart, at least, for each unit to a px. */
  apart: number
}

/** Lay the edition's ground below its tiles; editions without one have no such file. */
export async function layGround(map: OlMap, edition: Edition): Promise<void> {
  if (!edition.files.includes('ground.json')) return
  const file = await fetch(`${edition.base}ground.json`)
    .then((answer) => answer.json() as Promise<GroundFile>)
    .catch(() => null)
  if (!file) return
  const ground = groundOn(map)
  const { colour, width, labelled } = file.style ?? { colour: '#000000', width: 0, labelled: false }
  const style = { sea: file.sea, colour, width, labelled }
  const show = () => {
    const wanted = (map.getView().getResolution() ?? 1) * file.apart
    const suits = file.graticules.find((one) => one.step >= wanted) ?? file.graticules.at(-1)
    ground.show({ outline: file.outline, lines: suits?.lines ?? [], style })
  }
  map.on('moveend', show)
  show()
}
