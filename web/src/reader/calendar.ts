import type { Time } from '../api/types'

const DAY = 86_400

/** The times at which steps begin, with the end of the last: seconds since 1970, by the calendar and in no time zone. At most
 * `MOST` steps: a time that would have more is divided evenly. */
export function stepsOf({ by, steps, year_from }: Time, [first, last]: readonly [number, number]): number[] {
  if (by === 'steps') return evenly(first, last, steps)
  const begin = floor(first, by, year_from)
  const edges = [begin]
  while ((edges.at(-1) as number) <= last) {
    if (edges.length > MOST) return evenly(first, last, MOST)
    edges.push(next(edges.at(-1) as number, by))
  }
  return edges
}

export const MOST = 5_000

/** So many parts of the same length; the last has its end too. */
function evenly(first: number, last: number, steps: number): number[] {
  const wide = (last - first || 1) / steps
  // Times to the millisecond: the last moment itself is within the last step.
  return [...Array.from({ length: steps }, (_, i) => first + i * wide), last + 0.001]
}

function floor(seconds: number, by: Time['by'], yearFrom: number): number {
  const date = new Date(seconds * 1000)
  const [year, month] = [date.getUTCFullYear(), date.getUTCMonth()]
  const day = Math.floor(seconds / DAY) * DAY
  switch (by) {
    case 'hour':
      return Math.floor(seconds / 3600) * 3600
    case 'day':
    case 'steps':
      return day
    case 'week':
      // ISO 8601: weeks begin on Monday.
      return day - ((date.getUTCDay() + 6) % 7) * DAY
    case 'month':
      return Date.UTC(year, month, 1) / 1000
    case 'quarter':
      return Date.UTC(year, month - ((month - yearFrom + 13) % 3), 1) / 1000
    case 'year':
      return Date.UTC(month + 1 >= yearFrom ? year : year - 1, yearFrom - 1, 1) / 1000
  }
}

function next(seconds: number, by: Time['by']): number {
  const date = new Date(seconds * 1000)
  const months = { month: 1, quarter: 3, year: 12 }[by as string]
  if (months) return Date.UTC(date.getUTCFullYear(), date.getUTCMonth() + months, 1) / 1000
  return seconds + { hour: 3600, day: DAY, week: 7 * DAY }[by as 'hour' | 'day' | 'week']
}

/** What a span of time is called: '3 August 2023', 'August 2023', 'Q3 2023', '2023', 'April 2023 – March 2024'. */
export function called(from: number, to: number, { by, year_from }: Time, language: string): string {
  const say = (options: Intl.DateTimeFormatOptions, seconds = from) =>
    new Intl.DateTimeFormat(language, { ...options, timeZone: 'UTC' }).format(seconds * 1000)
  const last = to - 1
  const day: Intl.DateTimeFormatOptions = { day: 'numeric', month: 'long', year: 'numeric' }
  const month: Intl.DateTimeFormatOptions = { month: 'long', year: 'numeric' }
  const span = (options: Intl.DateTimeFormatOptions) =>
    say(options) === say(options, last) ? say(options) : `${say(options)} – ${say(options, last)}`
  if (by === 'hour') return `${say(day)}, ${say({ hour: '2-digit', minute: '2-digit' })}`
  if (by === 'month' || by === 'quarter') return span(month)
  if (by === 'year') return year_from === 1 ? span({ year: 'numeric' }) : span(month)
  return span(day)
}
