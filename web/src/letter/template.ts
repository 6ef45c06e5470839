const FIELD = /\{\{|\}\}|\{\s*(?:"([^"]*)"|([^{}:"]+?))\s*(?::[^{}]*)?\}/g

/** A field as it stands in a template: in braces, quoted where its name would be misread. */
export function asField(name: string): string {
  const plain = /^[^{}:"]+$/.test(name) && name === name.trim()
  return plain ? `{${name}}` : `{"${name.replaceAll('"', '')}"}`
}

/** A template with one more field at its end, parted from another before it. */
export function withField(template: string, name: string): string {
  return template + (template.endsWith('}') ? ' ' : '') + asField(name)
}

/** The first field of a template; null where it has none. */
export function firstField(template: string | undefined): string | null {
  for (const [, quoted, plain] of (template ?? '').matchAll(FIELD)) {
    const name = quoted ?? plain
    if (name !== undefined) return name
  }
  return null
}

/** What is wrong with a template, in words; '' where nothing is. */
export function amissIn(template: string, fields: readonly string[]): string {
  const rest = template.replace(FIELD, '')
  if (/[{}]/.test(rest)) return 'A brace stands alone.'
  for (const [, quoted, plain] of template.matchAll(FIELD)) {
    const name = quoted ?? plain
    if (name !== undefined && !fields.includes(name)) return `There is no field '${name}'.`
  }
  return ''
}
