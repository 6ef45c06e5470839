/** Made by writeLimits.js from openapi.json. */

export const Credentials = {
  name: { most: 150 },
  password: { most: 1000 },
} as const

export const PasswordChange = {
  old: { most: 1000 },
  new: { most: 1000 },
} as const

export const TeamIn = {
  name: { most: 80 },
} as const

export const NewAccount = {
  name: { most: 150 },
  password: { most: 1000 },
} as const

export const NewPassword = {
  person: { least: 1, below: 2147483648, whole: true },
  token: { most: 200 },
  password: { most: 1000 },
} as const

export const ShareIn = {
  person: { most: 150 },
} as const

export const AddressIn = {
  address: { most: 2000 },
} as const

export const TilesIn = {
  address: { most: 2000 },
  bounds: { least: 4, most: 4 },
} as const

export const FeaturesAsked = {
  address: { most: 2000 },
  collection: { most: 200 },
  bounds: { least: 4, most: 4 },
  where: { most: 5000 },
} as const

export const FileAsked = {
  address: { most: 2000 },
} as const

export const StoreAsked = {
  tags: { least: 1, most: 20 },
} as const

export const Tag = {
  name: { most: 100 },
  value: { most: 300 },
} as const

export const TilesAsked = {
  address: { most: 2000 },
  layer: { most: 200 },
  level: { most: 100 },
  bounds: { least: 4, most: 4 },
} as const

export const Within = {
  bounds: { least: 4, most: 4 },
  fid: { least: 0, below: 9007199254740992, whole: true },
} as const

export const Category = {
  values: { least: 1, most: 2000 },
  colour: { most: 20000 },
  shape: { most: 100 },
  name: { most: 500 },
} as const

export const Classing = {
  classes: { least: 1, most: 64, whole: true },
  breaks: { most: 65 },
  field: { most: 500 },
  weight: { most: 500 },
} as const

export const ColourByCategory = {
  field: { most: 500 },
  categories: { most: 2000 },
  no_data: { most: 20000 },
} as const

export const ColourByClasses = {
  no_data: { most: 20000 },
} as const

export const ColourByValue = {
  field: { most: 500 },
  no_data: { most: 20000 },
} as const

export const Frame = {
  fill: { most: 20000 },
  outline: { most: 20000 },
  width: { least: 0, most: 10 },
  room: { least: 0, most: 30 },
} as const

export const HandLabel = {
  fid: { least: 0, whole: true },
  at: { least: 2, most: 2 },
  turn: { least: -180, most: 180 },
  size: { least: 6, most: 72 },
  colour: { most: 20000 },
  text: { most: 500 },
} as const

export const LabelLine = {
  text: { most: 1000 },
  size: { least: 6, most: 72 },
  colour: { most: 20000 },
  spacing: { least: -0.1, most: 2 },
  wrap: { least: 4, most: 200, whole: true },
} as const

export const Lettering = {
  lines: { least: 1, most: 4 },
  leading: { least: 0.7, most: 3 },
  halo: { least: 0, most: 200 },
  halo_colour: { most: 20000 },
  opacity: { least: 0, most: 1 },
  sides: { least: 1, most: 8 },
  smallest: { least: 5, most: 72 },
  shorter: { most: 1000 },
  priority: { least: -10, most: 10, whole: true },
  first_by: { most: 500 },
  once_within: { least: 0, most: 200 },
  by_hand: { most: 2000 },
} as const

export const NormaliseByField = {
  field: { most: 500 },
  per: { most: 1000000000, above: 0 },
} as const

export const Other = {
  colour: { most: 20000 },
  name: { most: 500 },
} as const

export const RampChoice = {
  name: { most: 100 },
  stops: { most: 24 },
} as const

export const Scales = {
  closest: { above: 0 },
  farthest: { above: 0 },
} as const

export const Shadow = {
  colour: { most: 20000 },
  opacity: { least: 0, most: 1 },
  right: { least: -50, most: 50 },
  down: { least: -50, most: 50 },
  blur: { least: 0, most: 30 },
} as const

export const Corrections = {
  layer: { most: 500 },
  encoding: { most: 40 },
  delimiter: { most: 4 },
  header_row: { least: 0, most: 10000000, whole: true },
  x: { most: 500 },
  y: { most: 500 },
  shape: { most: 500 },
  crs: { most: 20000 },
  fields: { most: 4096 },
  where: { most: 5000 },
  simplify: { most: 10000000, above: 0 },
  title: { most: 200 },
  source: { most: 500 },
  credit: { most: 500 },
  licence: { most: 200 },
  dated: { most: 40 },
} as const

export const KeptAs = {
  name: { most: 500 },
  rename: { most: 500 },
} as const

export const ConditionTried = {
  text: { most: 10000 },
} as const

export const MosaicIn = {
  uploads: { least: 2, most: 500 },
} as const

export const DatasetChange = {
  title: { most: 200 },
  source: { most: 500 },
  credit: { most: 500 },
  licence: { most: 200 },
  dated: { most: 40 },
} as const

export const JoinIn = {
  area_key: { most: 500 },
  table_key: { most: 500 },
  more_keys: { most: 5 },
  nearest_km: { most: 20000, above: 0 },
  fields: { most: 4096 },
  title: { most: 200 },
} as const

export const KeyPair = {
  area_key: { most: 500 },
  table_key: { most: 500 },
} as const

export const AddField = {
  name: { most: 200 },
} as const

export const AddRow = {
  place: { least: 2, most: 2 },
} as const

export const ClearPlaces = {
  fids: { least: 1, most: 10000 },
} as const

export const DeleteField = {
  name: { most: 200 },
} as const

export const DeleteRows = {
  fids: { least: 1, most: 10000 },
} as const

export const DescribeField = {
  name: { most: 200 },
  unit: { most: 40 },
  decimals: { least: 0, most: 10, whole: true },
  missing: { most: 20 },
} as const

export const EditsIn = {
  edits: { least: 1, most: 10000 },
} as const

export const MovePoint = {
  fid: { least: 0, below: 9007199254740992, whole: true },
  place: { least: 2, most: 2 },
} as const

export const RetypeField = {
  name: { most: 200 },
  unit: { most: 40 },
} as const

export const SetCell = {
  fid: { least: 0, below: 9007199254740992, whole: true },
  field: { most: 200 },
  value: { most: 100000 },
  was: { most: 100000 },
} as const

export const SetCells = {
  fids: { least: 1, most: 10000 },
  field: { most: 200 },
  value: { most: 100000 },
} as const

export const RedeliveryIn = {
  layer: { most: 500 },
  encoding: { most: 40 },
  delimiter: { most: 4 },
  header_row: { least: 0, most: 10000000, whole: true },
  x: { most: 500 },
  y: { most: 500 },
  shape: { most: 500 },
  crs: { most: 20000 },
  fields: { most: 4096 },
  where: { most: 5000 },
  simplify: { most: 10000000, above: 0 },
  title: { most: 200 },
  source: { most: 500 },
  credit: { most: 500 },
  licence: { most: 200 },
  dated: { most: 40 },
  key: { most: 500 },
  more: { most: 3 },
} as const

export const PictureChange = {
  credit: { most: 300 },
  text: { most: 500 },
} as const

export const CutIn = {
  columns: { least: 1, most: 10000, whole: true },
  rows: { least: 1, most: 10000, whole: true },
  size: { most: 60 },
  pattern: { most: 120 },
} as const

export const ReasonIn = {
  reason: { most: 500 },
} as const

export const Calculate = {
  where: { most: 5000 },
  name: { most: 200 },
  expression: { most: 5000 },
} as const

export const Fill = {
  where: { most: 5000 },
  field: { most: 200 },
  value: { most: 10000 },
} as const

export const Order = {
  where: { most: 5000 },
  name: { most: 200 },
  by: { most: 200 },
  move: { least: 0, whole: true },
  before: { least: 0, whole: true },
} as const

export const Replace = {
  where: { most: 5000 },
  field: { most: 200 },
  find: { most: 5000 },
  put: { most: 5000 },
} as const

export const DecidedIn = {
  name: { most: 1000 },
  region: { most: 1000 },
  at: { least: 2, most: 2 },
} as const

export const LocateIn = {
  name: { most: 500 },
  region: { most: 500 },
  within: { most: 1000 },
  gazetteer_name: { most: 500 },
  gazetteer_region: { most: 500 },
  others: { most: 500 },
  decided: { most: 20000 },
  title: { most: 200 },
} as const

export const CrossEntry = {
  spelling: { most: 1000 },
  means: { most: 1000 },
  region: { most: 1000 },
  means_region: { most: 1000 },
  at: { least: 2, most: 2 },
} as const

export const CrossListOut = {
  title: { most: 200 },
  entries: { most: 20000 },
} as const

export const CrossListIn = {
  title: { most: 200 },
  entries: { most: 20000 },
} as const

export const Icon = {
  content: { most: 20000 },
  name: { most: 200 },
  credit: { most: 500 },
} as const

export const RampIn = {
  name: { most: 60 },
  stops: { least: 2, most: 24 },
} as const

export const Accepted = {
  finding: { most: 1000 },
  reason: { most: 500 },
} as const

export const AngleByValue = {
  field: { most: 500 },
} as const

export const ChoiceFilter = {
  layer: { most: 20000 },
  field: { most: 500 },
  title: { most: 200 },
} as const

export const Clusters = {
  reach: { least: 8, most: 200 },
  smallest: { least: 0, most: 200 },
  largest: { least: 0, most: 200 },
  colour: { most: 20000 },
  apart: { above: 0 },
} as const

export const ColourByLargest = {
  fields: { least: 2, most: 24 },
  faintest: { least: 0, most: 1 },
  tie: { most: 20000 },
  no_data: { most: 20000 },
} as const

export const ColourByTwo = {
  no_data: { most: 20000 },
} as const

export const Component = {
  field: { most: 500 },
  colour: { most: 20000 },
  name: { most: 500 },
} as const

export const Contours = {
  band: { least: 1, whole: true },
  interval: { above: 0 },
  index: { least: 0, most: 100, whole: true },
} as const

export const Corners = {
  low: { most: 20000 },
  first: { most: 20000 },
  second: { most: 20000 },
  high: { most: 20000 },
} as const

export const Departure = {
  fill: { most: 20000 },
  stroke: { most: 20000 },
  radius: { least: 0, most: 200 },
  opacity: { least: 0, most: 1 },
  name: { most: 200 },
} as const

export const Dots = {
  field: { most: 500 },
  each: { above: 0 },
} as const

export const Effects = {
  blur: { least: 0, most: 30 },
} as const

export const Furniture = {
  ground: { most: 20000 },
  sea: { most: 20000 },
  credits: { most: 2000 },
  source_date: { most: 100 },
  terms: { most: 500 },
} as const

export const Glow = {
  colour: { most: 20000 },
  opacity: { least: 0, most: 1 },
  blur: { least: 0, most: 30 },
} as const

export const Graticule = {
  step: { least: 0.01, most: 90 },
  colour: { most: 20000 },
  width: { least: 0, most: 200 },
} as const

export const Grid = {
  size: { least: 1, most: 5000000 },
  field: { most: 500 },
} as const

export const Group = {
  id: { most: 20000 },
  name: { most: 200 },
  opacity: { least: 0, most: 1 },
} as const

export const Heat = {
  radius: { least: 2, most: 150 },
  weight: { most: 500 },
} as const

export const Hillshade = {
  azimuth: { least: 0, most: 360 },
  altitude: { least: 0, most: 90 },
  exaggeration: { most: 100, above: 0 },
} as const

export const KeyText = {
  title: { most: 500 },
  unit: { most: 200 },
  unit_of: { most: 2000 },
  hidden: { most: 2000 },
  order: { most: 2000 },
  columns: { least: 1, most: 4, whole: true },
  decimals: { least: 0, most: 10, whole: true },
} as const

export const Layer = {
  id: { most: 20000 },
  name: { most: 200 },
  dataset: { most: 1000 },
  group: { most: 20000 },
  filter: { most: 10000 },
  card: { most: 20000 },
  opacity: { least: 0, most: 1 },
} as const

export const Limits = {
  classes: { least: 1, most: 64, whole: true },
  breaks: { most: 65 },
} as const

export const NamedValue = {
  name: { most: 200 },
  colour: { most: 20000 },
} as const

export const NamedValues = {
  band: { least: 1, whole: true },
  values: { most: 256 },
} as const

export const Near = {
  layers: { most: 100 },
  distance: { most: 20000, above: 0 },
  largest: { most: 20000, above: 0 },
} as const

export const OpacityByValue = {
  field: { most: 500 },
  faintest: { least: 0, most: 1 },
  fullest: { least: 0, most: 1 },
} as const

export const Pattern = {
  colour: { most: 20000 },
  opacity: { least: 0, most: 1 },
  spacing: { least: 2, most: 100 },
  width: { least: 0.2, most: 50 },
  turn: { least: 0, most: 180 },
} as const

export const Pins = {
  fids: { most: 500 },
  field: { most: 500 },
  colour: { most: 20000 },
} as const

export const Projection = {
  crs: { most: 1000 },
} as const

export const RangeFilter = {
  layer: { most: 20000 },
  field: { most: 500 },
  title: { most: 200 },
  step: { above: 0 },
} as const

export const RasterClasses = {
  band: { least: 1, whole: true },
} as const

export const RasterRamp = {
  band: { least: 1, whole: true },
} as const

export const Reader = {
  filters: { most: 12 },
  search: { most: 12 },
  text: { most: 20000 },
  language: { most: 20000 },
} as const

export const Rounds = {
  metres: { most: 5000000, above: 0 },
  field: { most: 500 },
} as const

export const Rule = {
  id: { most: 20000 },
  name: { most: 200 },
  where: { most: 10000 },
} as const

export const Search = {
  layer: { most: 20000 },
  field: { most: 500 },
} as const

export const Shares = {
  fields: { least: 2, most: 24 },
  hollow: { least: 0, most: 1 },
  small: { least: 0, most: 1 },
  small_colour: { most: 20000 },
} as const

export const Sheet = {
  title: { most: 200 },
  layers: { most: 100 },
  groups: { most: 100 },
  accepted: { most: 2000 },
  pictures_from: { most: 20 },
} as const

export const SizeByClasses = {
  no_data: { most: 20000 },
  smallest: { least: 0, most: 200 },
  largest: { least: 0, most: 200 },
} as const

export const SizeByValue = {
  field: { most: 500 },
  largest: { least: 0, most: 200 },
  greatest: { above: 0 },
  no_data: { most: 20000 },
} as const

export const Slope = {
  low: { least: 0, most: 90 },
  high: { least: 0, most: 90 },
} as const

export const StartView = {
  lon: { least: -180, most: 180 },
  lat: { least: -90, most: 90 },
  zoom: { least: 0, most: 24 },
} as const

export const Stroke = {
  colour: { most: 20000 },
  width: { least: 0, most: 200 },
  opacity: { least: 0, most: 1 },
  dash: { most: 8 },
} as const

export const Symbol = {
  fill: { most: 20000 },
  fill_opacity: { least: 0, most: 1 },
  strokes: { most: 6 },
  shape: { most: 100 },
  radius: { least: 0, most: 200 },
  ground: { most: 1000000, above: 0 },
  turn: { least: -360, most: 360 },
} as const

export const Symbols = {
  rules: { most: 200 },
} as const

export const Time = {
  layer: { most: 20000 },
  field: { most: 500 },
  until: { most: 500 },
  steps: { least: 2, most: 2000, whole: true },
  year_from: { least: 1, most: 12, whole: true },
  length: { least: 1, most: 2000, whole: true },
  seconds: { least: 1, most: 600 },
} as const

export const SheetIn = {
  base: { least: 0, below: 2147483648, whole: true },
} as const

export const PublishIn = {
  min_zoom: { least: -2147483648, below: 2147483648, whole: true },
  max_zoom: { least: -2147483648, below: 2147483648, whole: true },
} as const

export const ReadersIn = {
  sites: { most: 50 },
} as const

export const DistributionIn = {
  filter: { most: 10000 },
  field: { most: 500 },
  without: { most: 200 },
  band: { least: 1, whole: true },
} as const

export const RangeIn = {
  filter: { most: 10000 },
  field: { most: 500 },
  without: { most: 200 },
  band: { least: 1, whole: true },
} as const

export const ScatterIn = {
  filter: { most: 10000 },
} as const

export const InkedIn = {
  kind: { most: 40 },
  band: { least: 1, whole: true },
} as const

export const CardIn = {
  template: { most: 20000 },
  fid: { least: 0, below: 2147483648, whole: true },
  pictures_from: { most: 20 },
} as const

export const MendIn = {
  finding: { most: 1000 },
} as const

export const Look = {
  filter: { most: 10000 },
} as const

export const PlaceIn = {
  resolution: { above: 0 },
  crs: { most: 1000 },
} as const

export const Listed = {
  bounds: { least: 4, most: 4 },
} as const

export const Dash = {
  name: { most: 20000 },
} as const

export const Gestures = {
  departing: { most: 20000 },
  stop: { most: 20000 },
  icon: { least: 0, most: 200 },
  casing: { most: 20000 },
  wider: { least: 0, most: 200 },
  thinnest: { least: 0, most: 200 },
} as const

export const AddIn = {
  layers: { most: 100 },
} as const

export const FilterIn = {
  filter: { most: 10000 },
  field: { most: 500 },
  shown: { most: 500 },
  taken: { most: 12 },
} as const

export const SearchIn = {
  filter: { most: 10000 },
} as const

export const OtherIn = {
  taken: { most: 20 },
} as const

export const LineIn = {
  filter: { most: 10000 },
} as const

export const TimeIn = {
  filter: { most: 10000 },
  field: { most: 500 },
} as const

export const VaryIn = {
  filter: { most: 10000 },
  by: { most: 40 },
  fields: { most: 24 },
} as const

export const ShowIn = {
  filter: { most: 10000 },
  field: { most: 500 },
} as const

export const ReadIn = {
  by: { most: 40 },
} as const

export const RuleIn = {
  filter: { most: 10000 },
  fids: { most: 20000 },
} as const

export const SplitIn = {
  filter: { most: 10000 },
} as const

export const PartIn = {
  filter: { most: 10000 },
} as const

export const CategoriesIn = {
  filter: { most: 10000 },
  field: { most: 500 },
  most: { least: 1, most: 1000, whole: true },
} as const

export const TrialIn = {
  crs: { most: 1000 },
} as const

export const ConditionIn = {
  filter: { most: 10000 },
  text: { most: 10000 },
} as const

export const ExpressionIn = {
  filter: { most: 10000 },
  text: { most: 10000 },
} as const

export const RowsIn = {
  filter: { most: 10000 },
} as const

export const FieldIn = {
  filter: { most: 10000 },
  field: { most: 500 },
} as const

export const KeyEntry = {
  limits: { least: 2, most: 2 },
} as const

export const KeySection = {
  square: { least: 2, most: 2 },
} as const

export const PublicSection = {
  square: { least: 2, most: 2 },
} as const
