/** A value as somebody types it: yes and no in words, a day without the hour that nobody wrote; '' for none. */
export function cellText(value: unknown): string {
  if (value === null || value === undefined) return ''
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  return String(value).replace(/^(\d{4}-\d\d-\d\d)T00:00:00$/, '$1')
}
