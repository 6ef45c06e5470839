import type { components } from './generated/schema'

type Schemas = components['schemas']
export type Sheet = Schemas['Sheet']
export type Layer = Schemas['Layer']
export type Dataset = Schemas['DatasetOut']
export type Preview = Schemas['Preview']
export type Corrections = Schemas['Corrections']
export type Job = Schemas['JobOut']
export type JoinIn = Schemas['JoinIn']
export type JoinView = Schemas['JoinView']
export type Finding = Schemas['FindingOut']
export type Ramp = Schemas['RampOut']
export type Lettering = Schemas['Lettering']
export type Distribution = Schemas['DistributionOut']
export type Classed = Schemas['Classed']
export type Graduated = Schemas['Graduated']
export type Classing = Schemas['Classing']
export type RampChoice = Schemas['RampChoice']
export type Stroke = Schemas['Stroke']
export type Symbology = Layer['symbology']
export type Blend = NonNullable<Layer['blend']>
export type Method = NonNullable<Classing['method']>
export type Edition = Schemas['EditionOut']

/** What is drawn for a feature. */
export interface Mark {
  fill: string
  fill_opacity: number
  stroke: string
  stroke_width: number
  stroke_opacity: number
  radius: number
}

export interface RampKey {
  colours: string[]
  low: number
  high: number
}

/** What precedes the arrays in an answer of ink; see the server's InkHeader. */
export interface InkHeader {
  n: number
  sized: boolean
  ordered: boolean
  drawn: number
  kind: string
  palette: Mark[]
  title: string
  unit: string
  key: KeyEntry[]
  method: Method | null
  classes: { lower: number; upper: number; count: number }[]
  missing: number
  fit: number | null
  ramp: RampKey | null
}

export interface KeyEntry {
  id: string
  mark: Mark | null
  text: string
  made_text: string
  count: number | null
  hidden: boolean
}
