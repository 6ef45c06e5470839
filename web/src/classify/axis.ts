/** Where values stand along the histogram: between two ends, in proportion or by their logarithms. */
export interface Axis {
  low: number
  high: number
  /** Px from the left. */
  x: (value: number) => number
  valueAt: (px: number) => number
}

export function axisOf(low: number, high: number, left: number, width: number, asked: boolean): Axis {
  // Until bars with logarithms have come, the axis begins at what has none.
  const logarithmic = asked && low > 0
  const to = logarithmic ? Math.log : (value: number) => value
  const back = logarithmic ? Math.exp : (value: number) => value
  const [from, until] = [to(low), to(high)]
  const span = until - from
  return {
    low,
    high,
    x: (value) => {
      // Below zero there is no logarithm: such values stand left of all others.
      if (logarithmic && value <= 0) return left - width
      return left + (span > 0 ? ((to(value) - from) / span) * width : width / 2)
    },
    valueAt: (px) => back(from + ((px - left) / width) * span),
  }
}

/** The share of an axis within which two limits can hardly be told apart, let alone taken hold of. */
const CLOSE = 0.04

/** Whether limits, from the lowest value to the greatest, lie on one another in proportion, and would not by their logarithms. */
export function crowded(limits: readonly number[]): boolean {
  const [low = 0, ...upper] = limits
  const span = (upper.at(-1) ?? low) - low
  if (!upper.every((limit) => limit > 0)) return false
  return upper.slice(0, -1).some((limit, i) => limit - (i > 0 ? (upper[i - 1] ?? low) : low) < CLOSE * span)
}

/** Which of some words, centred at places in rising order and so wide, do not run into the last of them before. */
export function apart(words: readonly { at: number; wide: number }[]): Set<number> {
  const kept = new Set<number>()
  let end = -Infinity
  words.forEach(({ at, wide }, i) => {
    if (at - wide / 2 < end) return
    kept.add(i)
    end = at + wide / 2
  })
  return kept
}

/** Where a key takes a break: arrows by a step, with Shift or as Page keys by ten, Home and End as far as it goes. */
export function keyed(
  key: string,
  shift: boolean,
  value: number,
  step: number,
  low: number,
  high: number,
): number | null {
  const steps: Record<string, number> = {
    ArrowLeft: -1,
    ArrowDown: -1,
    ArrowRight: 1,
    ArrowUp: 1,
    PageDown: -10,
    PageUp: 10,
  }
  if (key === 'Home') return low
  if (key === 'End') return high
  const by = steps[key]
  return by === undefined ? null : value + by * step * (shift && Math.abs(by) === 1 ? 10 : 1)
}
