import type { components } from './generated/schema'

type Schemas = components['schemas']
export type Sheet = Schemas['Sheet']
export type Layer = Schemas['Layer']
export type Dataset = Schemas['DatasetOut']
export type Field = Dataset['fields'][number]
export type Edit = Schemas['EditsIn']['edits'][number]
export type Past = Schemas['RevisionOut']
export type RedeliveryIn = Schemas['RedeliveryIn']
export type RedeliveryView = Schemas['RedeliveryView']
export type Preview = Schemas['Preview']
export type Corrections = Schemas['Corrections']
export type Job = Schemas['JobOut']
export type JoinIn = Schemas['JoinIn']
export type JoinView = Schemas['JoinView']
export type Finding = Schemas['FindingOut']
export type ConditionAnswer = Schemas['ConditionOut']
export type Mistake = Schemas['Mistake']
export type Language = Schemas['LanguageOut']
export type Ramp = Schemas['RampOut']
export type Lettering = Schemas['Lettering']
export type Letter = Schemas['LetterOut']
export type Distribution = Schemas['Distribution']
export type Classed = Schemas['Classed']
export type Graduated = Schemas['Graduated']
export type Classing = Schemas['Classing']
export type RampChoice = Schemas['RampChoice']
export type Stroke = Schemas['Stroke']
export type Symbology = Layer['symbology']
export type Blend = NonNullable<Layer['blend']>
export type Method = NonNullable<Classing['method']>
export type Edition = Schemas['EditionOut']
export type Mark = Schemas['Mark']
export type KeyEntry = Schemas['KeyEntry']
export type RampKey = Schemas['RampKey']
/** What precedes the arrays in an answer of ink; the server writes all of it. */
export type InkHeader = Required<Schemas['InkHeader']>
export type ProjectionSuggestion = Schemas['ProjectionSuggestion']
export type ListedProjection = Schemas['Listed']
/** A published edition as its page knows it. */
export type EditionPage = Required<Schemas['EditionPage']>
export type PageLayer = EditionPage['layers'][number]
export type PageTiles = Schemas['PageTiles']
/** What lies below an edition's layers. */
export type GroundFile = Required<Schemas['Ground']>
/** A projection in figures; the server writes all of them. */
export type FrameFigures = Schemas['FrameFigures']
