/** What readers ask of a layer: where its features are, at which line of the key they stand, and what is in some of their fields. */
export interface Columns {
  n: number
  fid: Uint32Array
  x: Float64Array
  y: Float64Array
  lon: Float64Array
  lat: Float64Array
  /** Places in `entries`; NO_ENTRY for none. */
  entry: Uint16Array
  entries: string[]
  /** The field whose values call a feature by its name; '' for none. */
  named: string
  fields: Field[]
}

interface About {
  name: string
  title: string
  unit: string
  decimals: number | null
}

export type Field = NumberField | WordField

/** Numbers, or seconds since 1970; NaN where one is missing. */
export interface NumberField extends About {
  kind: 'number' | 'date'
  data: Float64Array
}

/** Places in `values`; MISSING where there is none. */
export interface WordField extends About {
  kind: 'words'
  values: string[]
  data: Uint32Array
}

export const MISSING = 0xffffffff
export const NO_ENTRY = 0xffff

type Header = Pick<Columns, 'n' | 'entries' | 'named'> & {
  fields: (About & { kind: Field['kind']; values?: string[] })[]
}

/** Read the columns of a layer: uint32 length, JSON, then arrays that begin at multiples of eight bytes. */
export function decodeColumns(buffer: ArrayBuffer): Columns {
  const length = new DataView(buffer).getUint32(0, true)
  const { n, entries, named, fields } = JSON.parse(
    new TextDecoder().decode(new Uint8Array(buffer, 4, length)),
  ) as Header
  let at = 4 + length
  const next = <T extends ArrayBufferView>(kind: new (from: ArrayBuffer, at: number, many: number) => T): T => {
    const array = new kind(buffer, at, n)
    at += Math.ceil(array.byteLength / 8) * 8
    return array
  }
  const columns = {
    n,
    entries,
    named,
    fid: next(Uint32Array),
    x: next(Float64Array),
    y: next(Float64Array),
    lon: next(Float64Array),
    lat: next(Float64Array),
    entry: next(Uint16Array),
  }
  return {
    ...columns,
    fields: fields.map((field) =>
      field.kind === 'words'
        ? { ...field, kind: field.kind, values: field.values ?? [], data: next(Uint32Array) }
        : { ...field, kind: field.kind, data: next(Float64Array) },
    ),
  }
}

export const fieldOf = (columns: Columns | undefined, name: string): Field | undefined =>
  columns?.fields.find((field) => field.name === name)

/** What a feature is called. */
export function nameOf(columns: Columns, row: number): string {
  const field = fieldOf(columns, columns.named)
  if (!field) return `${(columns.fid[row] ?? 0) + 1}`
  const value = field.data[row] ?? NaN
  return field.kind === 'words' ? (field.values[value] ?? '') : String(value)
}
