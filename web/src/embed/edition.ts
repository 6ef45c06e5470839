import type { FrameFigures, Mark, RampKey } from '../api/types'

/** What the server says of a published edition. */
export interface Edition {
  title: string
  number: number
  base: string
  credits: string
  source_date: string
  ground: string | null
  scale_bar: boolean
  view: Place
  key: KeyPart[]
  min_zoom: number
  max_zoom: number
  size: number
  /** Of the tiles' pictures; editions of before have PNG. */
  format?: string
  bounds: number[]
  /** Where tiles are, with what stands out over the data; editions of before have none. */
  drawn_bounds?: number[]
  cards: string[]
  files: string[]
  /** Where the map lies, the box around it there and where it opens; editions of before lie in Web Mercator and have none. */
  frame?: FrameFigures
  box?: number[]
  start?: [number, number] | null
  /** Metres on the ground to a unit at places of the box, from its upper left row by row; null where that is known without. */
  scales?: (number | null)[][] | null
}

/** A feature that has a card: where it is asked for. */
export interface FeatureLine {
  layer: string
  row: number
  x: number
  y: number
}

export interface Place {
  lon: number
  lat: number
  zoom: number
}

export interface KeyPart {
  layer: string
  title: string
  unit: string
  kind: string
  ramp: RampKey | null
  entries: { id: string; text: string; mark: Mark | null }[]
}
