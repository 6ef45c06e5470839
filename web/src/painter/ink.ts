import type { InkHeader } from '../api/types'

export const UNDRAWN = 255

/** A layer's ink by fid: a palette position per feature, and for symbols of several sizes a radius and the place in the drawing order. */
export interface Ink {
  header: InkHeader
  index: Uint8Array
  radius: Float32Array | null
  rank: Int32Array | null
}

/** Read the server's binary answer: uint32 length, JSON, then arrays that begin at multiples of four bytes. */
export function decodeInk(buffer: ArrayBuffer): Ink {
  const length = new DataView(buffer).getUint32(0, true)
  const header = JSON.parse(new TextDecoder().decode(new Uint8Array(buffer, 4, length))) as InkHeader
  let at = 4 + length
  const index = new Uint8Array(buffer, at, header.n)
  at += header.n + ((4 - (header.n % 4)) % 4)
  const radius = header.sized ? new Float32Array(buffer, at, header.n) : null
  at += radius?.byteLength ?? 0
  const rank = header.ordered ? new Int32Array(header.n) : null
  if (rank) new Int32Array(buffer, at, header.n).forEach((row, place) => (rank[row] = place))
  at += rank?.byteLength ?? 0
  if (!header.numbered) return { header, index, radius, rank }
  const fids = new Int32Array(buffer, at, header.n)
  const size = 1 + (fids.at(-1) ?? -1)
  return {
    header,
    index: byFid(index, fids, new Uint8Array(size).fill(UNDRAWN)),
    radius: radius && byFid(radius, fids, new Float32Array(size)),
    rank: rank && byFid(rank, fids, new Int32Array(size)),
  }
}

/** Values of rows put where their features' numbers are. */
function byFid<T extends Uint8Array | Float32Array | Int32Array>(values: T, fids: Int32Array, out: T): T {
  fids.forEach((fid, row) => (out[fid] = values[row] ?? 0))
  return out
}
