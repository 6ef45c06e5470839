/** What a number may be, as the core says it of each: `api/generated/limits`. */
export interface NumberLimits {
  readonly least?: number
  readonly most?: number
  /** More than that. */
  readonly above?: number
  readonly whole?: boolean
}

/** Of the numbers that may be, the one nearest to what was typed; null where none is, as of those above zero to zero. */
export function within({ least = -Infinity, most = Infinity, above, whole }: NumberLimits, typed: number) {
  const value = whole ? Math.round(typed) : typed
  return above !== undefined && value <= above ? null : Math.min(most, Math.max(least, value))
}

/** The same where zero and less stand for none. */
export function withinOrNone(limits: NumberLimits, typed: number): number | null {
  return typed > 0 ? within(limits, typed) : null
}

/** What may be typed, in words: "6 to 72", "more than 0". */
export function limitsInWords({ least, most, above }: NumberLimits): string {
  const from = above !== undefined ? `more than ${above}` : least !== undefined ? String(least) : ''
  if (most === undefined) return above === undefined && from ? `${from} or more` : from
  const to = most.toLocaleString('en')
  return above !== undefined ? `${from}, up to ${to}` : from ? `${from} to ${to}` : `up to ${to}`
}
