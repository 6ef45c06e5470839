import { type Columns, type Field, MISSING, NO_ENTRY, type NumberField, type WordField } from './columns'

/** Which rows are taken: 1 for each that is. */
export type Mask = Uint8Array

/** Numbers between two ends, both included. */
export function between({ data }: NumberField, low: number, high: number): Mask {
  const mask = new Uint8Array(data.length)
  for (let i = 0; i < data.length; i++) {
    const value = data[i] as number
    mask[i] = value >= low && value <= high ? 1 : 0
  }
  return mask
}

/** Values that are among some; the empty text stands for a missing one. */
export function among({ data, values }: WordField, wanted: ReadonlySet<string>): Mask {
  const taken = Uint8Array.from(values, (value) => (wanted.has(value) ? 1 : 0))
  const missing = wanted.has('') ? 1 : 0
  return Uint8Array.from(data, (code) => (code === MISSING ? missing : (taken[code] ?? 0)))
}

/** Rows at lines of the key that are not switched off. */
export function atEntries({ entry, entries }: Columns, off: ReadonlySet<string>): Mask {
  const taken = Uint8Array.from(entries, (id) => (off.has(id) ? 0 : 1))
  return Uint8Array.from(entry, (at) => (at === NO_ENTRY ? 1 : (taken[at] ?? 1)))
}

/** Times within a window, whose end is left out; with an `until`, rows that last into it. */
export function during(from: NumberField, until: NumberField | null, low: number, high: number): Mask {
  const mask = new Uint8Array(from.data.length)
  for (let i = 0; i < mask.length; i++) {
    const begins = from.data[i] as number
    const ends = until ? (until.data[i] as number) : begins
    // What has no end lasts.
    mask[i] = begins < high && (until ? !(ends < low) : ends >= low) ? 1 : 0
  }
  return mask
}

/** Rows that all of several masks take; all rows where there are none. */
export function together(n: number, masks: readonly Mask[]): Mask {
  const mask = new Uint8Array(n).fill(1)
  for (const each of masks) for (let i = 0; i < n; i++) mask[i] = (mask[i] ?? 0) & (each[i] ?? 0)
  return mask
}

export function size(mask: Mask): number {
  let many = 0
  for (const taken of mask) many += taken
  return many
}

/** One more at a place. */
export const add = (counts: Uint32Array, at: number) => {
  counts[at] = (counts[at] ?? 0) + 1
}

/** How often each code stands in rows that are taken; the last place counts those that are none of them. */
export function counts(codes: Uint32Array | Uint16Array, many: number, mask: Mask): Uint32Array {
  const counts = new Uint32Array(many + 1)
  for (let i = 0; i < codes.length; i++) if (mask[i]) add(counts, Math.min(codes[i] as number, many))
  return counts
}

/** How many numbers fall into each of `bins` parts between two ends; the last part has its upper end too. */
export function spread(
  { data }: NumberField,
  [low, high]: readonly [number, number],
  bins: number,
  mask: Mask,
): Uint32Array {
  const counts = new Uint32Array(bins)
  const wide = (high - low) / bins || 1
  for (let i = 0; i < data.length; i++) {
    const value = data[i] as number
    if (mask[i] && value >= low && value <= high) add(counts, Math.min(bins - 1, Math.floor((value - low) / wide)))
  }
  return counts
}

/** The least and the greatest number; null where there is none. */
export function ends({ data }: NumberField): [number, number] | null {
  let low = Infinity
  let high = -Infinity
  for (const value of data) {
    if (value < low) low = value
    if (value > high) high = value
  }
  return low <= high ? [low, high] : null
}

const folded = (text: string) => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase()

/** The rows whose text has a word that begins like what is typed, or has it anywhere, the former first; those that are called the same together. */
export function found(field: Field, typed: string, most: number): number[][] {
  const wanted = folded(typed.trim())
  if (!wanted) return []
  const texts = field.kind === 'words' ? field.values : null
  const grades = texts?.map((value) => grade(folded(value), wanted))
  const hits = new Map<number, { rows: number[]; grade: number }>()
  for (let row = 0; row < field.data.length; row++) {
    const code = field.data[row] as number
    const at = grades ? (grades[code] ?? 0) : grade(String(code), wanted)
    if (at <= 0) continue
    const alike = hits.get(code)
    if (alike) alike.rows.push(row)
    else hits.set(code, { rows: [row], grade: at })
  }
  return [...hits.values()]
    .sort((a, b) => b.grade - a.grade)
    .slice(0, most)
    .map(({ rows }) => rows)
}

function grade(text: string, wanted: string): number {
  if (text === wanted) return 4
  if (text.startsWith(wanted)) return 3
  if (text.includes(` ${wanted}`)) return 2
  return text.includes(wanted) ? 1 : 0
}
