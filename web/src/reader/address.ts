import { type Start } from './place'

/** What a reader has chosen, as it stands in the address behind the view: '#9/52/-27?wells.depth=10..40&off.carbon=no-data'. */
export interface Said {
  /** By layer and field: the two ends. */
  ranges: Record<string, [number, number]>
  /** By layer and field: the values. */
  choices: Record<string, string[]>
  /** By layer: the lines of the key that are switched off. */
  off: Record<string, string[]>
  hidden: string[]
  /** Parts of the page that are left away: in a frame its host may have them already. */
  without: string[]
  /** When the time that is seen begins: seconds since 1970. */
  time: number | null
  near: { lon: number; lat: number; metres: number } | null
}

export const nothingSaid = (): Said => ({
  ranges: {},
  choices: {},
  off: {},
  hidden: [],
  without: [],
  time: null,
  near: null,
})

/** What a page can do without; credits always stay. */
export const PARTS = ['title', 'tools', 'key', 'filters', 'text'] as const
export type PagePart = (typeof PARTS)[number]
const isPart = (name: string): name is PagePart => (PARTS as readonly string[]).includes(name)

const RANGE = /^(-?[\d.]+(?:e[+-]?\d+)?)\.\.(-?[\d.]+(?:e[+-]?\d+)?)$/
const PARTED = '|'

/** What an address says of a reader's choice; what makes no sense in it is left out. */
export function saidIn(hash: string): Said {
  const said = nothingSaid()
  for (const [name, value] of new URLSearchParams(hash.split('?')[1] ?? '')) {
    const [, low, high] = RANGE.exec(value) ?? []
    const numbers = value.split(',').map(Number)
    if (name === 'hidden') said.hidden = value.split(PARTED)
    else if (name === 'without') said.without = value.split(',').filter(isPart)
    else if (name === 'time' && Number.isFinite(Date.parse(value))) said.time = Date.parse(`${value}Z`) / 1000
    else if (name === 'near' && numbers.length === 3 && numbers.every(Number.isFinite)) {
      const [lon = 0, lat = 0, metres = 0] = numbers
      said.near = { lon, lat, metres }
    } else if (name.startsWith('off.')) said.off[name.slice(4)] = value.split(PARTED)
    else if (low !== undefined && high !== undefined) said.ranges[name] = [Number(low), Number(high)]
    else if (name.startsWith('of.')) said.choices[name.slice(3)] = value ? value.split(PARTED) : []
  }
  return said
}

/** The same the other way round, behind a view. */
export function addressOf(view: Start, said: Said): string {
  const words = new URLSearchParams()
  for (const [name, [low, high]] of Object.entries(said.ranges)) words.set(name, `${low}..${high}`)
  for (const [name, values] of Object.entries(said.choices)) words.set(`of.${name}`, values.join(PARTED))
  for (const [layer, ids] of Object.entries(said.off)) if (ids.length) words.set(`off.${layer}`, ids.join(PARTED))
  if (said.hidden.length) words.set('hidden', said.hidden.join(PARTED))
  if (said.without.length) words.set('without', said.without.join())
  if (said.time !== null) words.set('time', new Date(said.time * 1000).toISOString().slice(0, 19))
  if (said.near) words.set('near', [said.near.lon.toFixed(5), said.near.lat.toFixed(5), said.near.metres].join())
  const zoom = round(view.zoom, 2)
  const place =
    'x' in view ? `@${round(view.x, 1)},${round(view.y, 1)}` : `/${round(view.lat, 5)}/${round(view.lon, 5)}`
  const asked = words.toString()
  return `#${zoom}${place}${asked && `?${asked}`}`
}

const round = (value: number, digits: number) => Number(value.toFixed(digits))
