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
export type LikelyPlace = Schemas['LikelyPlace']
export type SimplifiedLook = Schemas['SimplifiedLook']
export type Job = Schemas['JobOut']
export type LocateIn = Schemas['LocateIn']
export type NameFields = Schemas['NameFieldsOut']
export type PlacesView = Schemas['PlacesView']
export type JoinIn = Schemas['JoinIn']
export type JoinView = Schemas['JoinView']
export type Finding = Schemas['FindingOut']
export type ConditionAnswer = Schemas['ConditionOut']
export type Mistake = Schemas['Mistake']
export type Language = Schemas['LanguageOut']
export type Ramp = Schemas['RampOut']
export type Lettering = Schemas['Lettering']
export type Letter = Schemas['LetterOut']
export type KeptRamp = Schemas['KeptRampOut']
export type Oklch = Schemas['StripsOut']
export type Distribution = Schemas['Distribution']
export type Scatter = Schemas['Scatter']
export type Symbols = Schemas['Symbols']
export type Rule = Schemas['Rule']
/** A symbol with what of it varies: a layer's own, or a rule's. */
export type Look = Pick<Symbols, 'symbol' | 'encodings'>
export type SymbolShape = Schemas['Symbol']
export type Encodings = Schemas['Encodings']
export type Channel = Schemas['VaryIn']['channel']
export type Category = Schemas['Category']
export type Icon = Schemas['Icon']
export type KeptIcon = Schemas['IconOut']
export type Pattern = Schemas['Pattern']
export type Effects = Schemas['Effects']
export type Group = Schemas['Group']
export type Scales = Schemas['Scales']
export type Heat = Schemas['Heat']
export type Clusters = Schemas['Clusters']
export type Doubt = Schemas['DoubtOut']
export type Departure = Schemas['Departure']
export type Pins = Schemas['Pins']
export type PictureLook = Schemas['Look']
export type Reading = NonNullable<Layer['reading']>
export type Classing = Schemas['Classing']
/** How numbers become classes, whichever they are. */
export type Limits = Schemas['Limits']
export type RasterClasses = Schemas['RasterClasses']
export type NamedValues = Schemas['NamedValues']
export type RampChoice = Schemas['RampChoice']
export type Stroke = Schemas['Stroke']
export type Symbology = Layer['symbology']
export type Blend = NonNullable<Layer['blend']>
export type Method = NonNullable<Classing['method']>
export type Edition = Schemas['EditionOut']
export type Mark = Schemas['Mark']
export type KeyEntry = Schemas['KeyEntry']
export type KeySection = Schemas['KeySection']
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
