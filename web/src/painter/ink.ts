import type { InkHeader } from '../api/types'

/** The palette position of a feature that is not drawn, and the ramp position of one whose colour is that of its mark. */
export const UNDRAWN = 65535

/** A layer's ink by fid: a palette position per feature, and of what varies a value per feature. */
export interface Ink {
  header: InkHeader
  mark: Uint16Array
  ramp: Uint16Array | null
  size: Float32Array | null
  /** What `size` is in units of the map, where it is measured on the ground; NaN for rows whose size is px. */
  ground: Float32Array | null
  angle: Float32Array | null
  opacity: Float32Array | null
  /** As many per feature as there are wedges. */
  shares: Float32Array | null
  /** The place in the drawing order. */
  rank: Int32Array | null
}

export const ARRAYS = {
  mark: Uint16Array,
  ramp: Uint16Array,
  size: Float32Array,
  ground: Float32Array,
  angle: Float32Array,
  opacity: Float32Array,
  shares: Float32Array,
  order: Int32Array,
  fid: Int32Array,
}
export type Column = keyof typeof ARRAYS
export type Columns = { [name in Column]?: InstanceType<(typeof ARRAYS)[name]> }

/** Columns of rows put where their features' numbers are. */
export function byFids(
  header: InkHeader,
  { mark, ramp, size, ground, angle, opacity, shares, order, fid }: Columns,
): Ink {
  const rank = order ? new Int32Array(header.n) : null
  order?.forEach((row, place) => rank && (rank[row] = place))
  const none = new Uint16Array(header.n).fill(UNDRAWN)
  const ink = {
    header,
    mark: mark ?? none,
    ramp: ramp ?? null,
    size: size ?? null,
    ground: ground ?? null,
    angle: angle ?? null,
    opacity: opacity ?? null,
    shares: shares ?? null,
    rank,
  }
  if (!fid) return ink
  const many = 1 + (fid.at(-1) ?? -1)
  const wedges = header.wedges.length
  return {
    header,
    mark: placed(ink.mark, fid, new Uint16Array(many).fill(UNDRAWN)),
    ramp: ink.ramp && placed(ink.ramp, fid, new Uint16Array(many).fill(UNDRAWN)),
    size: ink.size && placed(ink.size, fid, new Float32Array(many)),
    ground: ink.ground && placed(ink.ground, fid, new Float32Array(many)),
    angle: ink.angle && placed(ink.angle, fid, new Float32Array(many)),
    opacity: ink.opacity && placed(ink.opacity, fid, new Float32Array(many)),
    shares: ink.shares && placed(ink.shares, fid, new Float32Array(many * wedges), wedges),
    rank: rank && placed(rank, fid, new Int32Array(many)),
  }
}

/** Sizes measured on the ground are drawn to so many parts of a px: the rule of the server's painter. */
const FINE = 8

/** The ink with all sizes in px, where it is seen at so many units to a px. */
export function inkAt(ink: Ink, resolution: number): Ink {
  const { ground, size } = ink
  if (!ground || !size) return ink
  const most = ink.header.most
  const px = ground.map((units, row) =>
    Number.isNaN(units) ? (size[row] ?? 0) : Math.min(Math.round((units / resolution) * FINE) / FINE, most),
  )
  return { ...ink, size: px, ground: null }
}

function placed<T extends Uint16Array | Float32Array | Int32Array>(values: T, fids: Int32Array, out: T, wide = 1): T {
  fids.forEach((fid, row) => {
    for (let i = 0; i < wide; i++) out[fid * wide + i] = values[row * wide + i] ?? 0
  })
  return out
}
