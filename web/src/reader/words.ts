/** What the page says by itself. Makers give the same in another language, by these names; {n} and the like stand for what is told. */
export const ENGLISH = {
  key: 'Key',
  all: 'Show all',
  filters: 'Choose',
  from: '{what}, from',
  to: '{what}, to',
  missing: 'not known',
  taken: '{n} of {of} shown',
  none: 'Nothing is so. Choose less.',
  off: 'Show or hide {what}',
  play: 'Play',
  pause: 'Pause',
  back: 'One step back',
  forward: 'One step forward',
  whole: 'The whole time',
  when: 'When',
  search: 'Find on the map',
  notFound: 'Nothing is called so.',
  near: 'What is near a place',
  nearHow: 'Press a place on the map.',
  nearFind: 'Press a place on the map, or find one by its name.',
  distance: 'Distance',
  within: '{n} within {distance} {unit}',
  away: '{distance} {unit}',
  more: 'and {n} more',
  measure: 'Measure',
  measureHow: 'Press places on the map, one after the other.',
  length: 'Length {length}',
  area: 'Area {area}',
  anew: 'Begin anew',
  locate: 'Where I am',
  notLocated: 'This device does not say where it is.',
  elsewhere: 'You are not on this map.',
  fullScreen: 'Full screen',
  tools: 'Tools',
  layers: 'Layers',
  ground: 'Ground',
  download: 'Take the data along',
  share: 'Copy the address of what is shown',
  copied: 'The address is copied.',
  table: 'Features in view, as a table',
  inView: '{n} features in view',
  close: 'Close',
  closeCard: 'Close the card',
  card: 'Card',
  page: '{n} of {of}',
  next: 'Next card',
  before: 'Card before',
  feature: 'feature',
  km: 'km',
  mi: 'miles',
} as const

export type Word = keyof typeof ENGLISH

let own: Record<string, string> = {}
export let language = 'en'

/** Speak another language from now on, where the edition has its words. */
export function speak(words: Record<string, string>, code: string): void {
  own = words
  language = code
}

/** A word or sentence of the page. */
export function word(name: Word, told: Record<string, string | number> = {}): string {
  const text = own[name] ?? ENGLISH[name]
  return text.replace(/\{(\w+)\}/g, (_, key: string) => {
    const value = told[key] ?? ''
    return typeof value === 'number' ? number(value) : value
  })
}

/** A number as the page's language writes it. */
export function number(value: number, decimals = 6): string {
  return new Intl.NumberFormat(language, { maximumFractionDigits: decimals }).format(value)
}
