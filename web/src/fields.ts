interface Field {
  name: string
  type: string
  meaning?: { kind: string }
  tells_little?: boolean
}

export function isNumeric(field: Field): boolean {
  return field.type === 'number' || field.type === 'integer'
}

/** The names of the fields that hold numbers; coordinates and codes, which measure nothing, come last. */
export function numericNames(fields: readonly Field[] | undefined): string[] {
  const numeric = (fields ?? []).filter(isNumeric)
  return numeric.toSorted((a, b) => Number(a.tells_little) - Number(b.tells_little)).map((field) => field.name)
}

/** The names of the fields that hold kinds of something. */
export function categoryNames(fields: readonly Field[] | undefined): string[] {
  return (fields ?? []).filter((field) => field.meaning?.kind === 'category').map((field) => field.name)
}

/** What a field can mean, in words. */
export const meansOf = {
  count: 'count or amount',
  rate: 'rate or share',
  measure: 'measure',
  category: 'category',
  identifier: 'identifier',
  date: 'date',
  name: 'name',
  picture: 'address of a picture',
} as const

/** What is known of a field, in a line: "numbers in cm, measure, 25 missing". */
export function about(
  field: Field & { missing: number; meaning: { kind: keyof typeof meansOf; unit: string } },
): string {
  return [
    field.type + (field.meaning.unit ? ` in ${field.meaning.unit}` : ''),
    meansOf[field.meaning.kind],
    ...(field.missing ? [`${field.missing} missing`] : []),
  ].join(', ')
}

/** A field's name with its unit, where that is known: "peat_ha · ha". */
export function labelOf(fields: readonly (Field & { meaning?: { unit: string } })[], name: string): string {
  const unit = fields.find((field) => field.name === name)?.meaning?.unit
  return unit ? `${name} · ${unit}` : name
}
