import type { Dataset } from '../api/types'
import { type Bounds, overlaps } from './GlanceMap'

/** How well a dataset fits words that were typed: a title that begins so before one that has them, before a stray mention; 0: not at all. */
export function fit(dataset: Dataset, wanted: string): number {
  const words = folded(wanted).split(/\s+/).filter(Boolean)
  if (words.length === 0) return 1
  const title = folded(dataset.title)
  const fields = folded(dataset.fields.map(({ name }) => name).join(' '))
  const rest = folded(
    `${dataset.kind} ${dataset.source} ${dataset.credit} ${dataset.licence} ${dataset.owner} ${dataset.crs} ${dataset.file_name}`,
  )
  const each = words.map((word) =>
    title.startsWith(word)
      ? 8
      : title.includes(` ${word}`)
        ? 6
        : title.includes(word)
          ? 5
          : fields.includes(word)
            ? 2
            : rest.includes(word)
              ? 1
              : 0,
  )
  return each.includes(0) ? 0 : each.reduce((sum, value) => sum + value, title === words.join(' ') ? 10 : 0)
}

/** What is looked for besides words; '' and null ask for nothing. */
export interface Wanted {
  kind: string
  owner: string
  licence: string
  vetted: boolean
  place: Bounds | null
}

export const ANYTHING: Wanted = { kind: '', owner: '', licence: '', vetted: false, place: null }

/** Those that fit, the best first; of those that fit as well, in the order that they had. */
export function ranked(datasets: readonly Dataset[], words: string, wanted: Partial<Wanted> = {}): Dataset[] {
  const { kind, owner, licence, vetted, place } = { ...ANYTHING, ...wanted }
  return datasets
    .filter((dataset) => !kind || dataset.kind === kind)
    .filter((dataset) => !owner || dataset.owner === owner)
    .filter((dataset) => !licence || dataset.licence === licence)
    .filter((dataset) => !vetted || dataset.vetted !== null)
    .filter(({ bounds }) => !place || (bounds !== null && overlaps(bounds as Bounds, place)))
    .map((dataset) => ({ dataset, score: fit(dataset, words) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ dataset }) => dataset)
}

/** What one can choose from: the different values that a library has, in order. */
export function choices(datasets: readonly Dataset[], what: 'owner' | 'licence'): string[] {
  return [...new Set(datasets.map((dataset) => dataset[what]).filter(Boolean))].sort((a, b) => a.localeCompare(b))
}

const folded = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
