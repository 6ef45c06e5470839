/** Words of the language of conditions, which are no names. */
export const WORD = /^(and|or|not|in|like|between|is|null|true|false)$/i

/** A field as it is written in a condition: names of letters and digits as they are, others in double quotes. */
export function written(name: string): string {
  return /^[\p{L}_][\p{L}\p{N}_]*$/u.test(name) && !WORD.test(name) ? name : `"${name}"`
}
