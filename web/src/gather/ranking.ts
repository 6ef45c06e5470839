import type { Dataset } from '../api/types'

/** How well a dataset fits words that were typed: a title that begins so before one that has them, before a stray mention; 0: not at all. */
export function fit(dataset: Dataset, wanted: string): number {
  const words = folded(wanted).split(/\s+/).filter(Boolean)
  if (words.length === 0) return 1
  const title = folded(dataset.title)
  const fields = folded(dataset.fields.map(({ name }) => name).join(' '))
  const rest = folded(`${dataset.kind} ${dataset.source} ${dataset.credit} ${dataset.crs} ${dataset.file_name}`)
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

/** Those that fit, the best first; of those that fit as well, in the order that they had. */
export function ranked(datasets: readonly Dataset[], wanted: string, kind = ''): Dataset[] {
  return datasets
    .filter((dataset) => !kind || dataset.kind === kind)
    .map((dataset) => ({ dataset, score: fit(dataset, wanted) }))
    .filter(({ score }) => score > 0)
    .sort((a, b) => b.score - a.score)
    .map(({ dataset }) => dataset)
}

const folded = (text: string) => text.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()
