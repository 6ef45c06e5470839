import type { InkHeader } from '../api/types'
import { earlierInk } from './earlierInk'
import { ARRAYS, byFids, type Column, type Columns, type Ink } from './ink'

/** Read the server's binary answer: uint32 length, JSON, then arrays that begin at multiples of four bytes. */
export function decodeInk(buffer: ArrayBuffer): Ink {
  const length = new DataView(buffer).getUint32(0, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as InkHeader
  if (!('columns' in header)) return earlierInk(header, buffer, 4 + length)
  let at = 4 + length
  const columns: Columns = {}
  for (const name of header.columns as Column[]) {
    const many = header.n * (name === 'shares' ? header.wedges.length : 1)
    const array = new ARRAYS[name](buffer, at, many)
    ;(columns as Record<string, unknown>)[name] = array
    at += Math.ceil(array.byteLength / 4) * 4
  }
  return byFids(header, columns)
}
