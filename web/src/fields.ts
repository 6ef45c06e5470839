interface Field {
  name: string
  type: string
}

export function isNumeric(field: Field): boolean {
  return field.type === 'number' || field.type === 'integer'
}

/** The names of the fields that hold numbers. */
export function numericNames(fields: readonly Field[] | undefined): string[] {
  return (fields ?? []).filter(isNumeric).map((field) => field.name)
}
