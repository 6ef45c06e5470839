import type { EditionPage } from '../api/types'

/** Metres on the ground to a unit of the map at a place, as the edition knows them nearby; null where it does not. */
export function metresAt(
  { box, scales }: Pick<EditionPage, 'box' | 'scales'>,
  [x = 0, y = 0]: readonly number[],
): number | null {
  if (!scales?.length) return null
  const [west = 0, south = 0, east = 0, north = 0] = box
  const row = scales[cell((north - y) / (north - south), scales.length)] ?? []
  return row[cell((x - west) / (east - west), row.length)] ?? null
}

/** Where north is at a place, in degrees from up, clockwise, between those that the edition knows; null where there is none. */
export function northAt(
  { box, north }: Pick<EditionPage, 'box' | 'north'>,
  [x = 0, y = 0]: readonly number[],
): number | null {
  const turns = north?.turns ?? []
  if (turns.length === 0) return 0
  const [west = 0, south = 0, east = 0, upper = 0] = box
  const [i, s] = between((x - west) / (east - west), turns.length)
  const [j, t] = between((upper - y) / (upper - south), turns.length)
  const corners = [turns[j]?.[i], turns[j]?.[i + 1], turns[j + 1]?.[i], turns[j + 1]?.[i + 1]]
  const shares = [(1 - t) * (1 - s), (1 - t) * s, t * (1 - s), t * s]
  let [up, right] = [0, 0]
  for (const [k, turn] of corners.entries()) {
    if (turn == null) return null
    up += (shares[k] ?? 0) * Math.cos((turn * Math.PI) / 180)
    right += (shares[k] ?? 0) * Math.sin((turn * Math.PI) / 180)
  }
  return (Math.atan2(right, up) * 180) / Math.PI
}

function cell(share: number, count: number): number {
  return Math.min(count - 1, Math.max(0, Math.floor(share * count)))
}

/** Of values that stand at the middles of cells: after which of them a place is, and how far on the way to the next. */
function between(share: number, count: number): [number, number] {
  const along = Math.min(count - 1, Math.max(0, share * count - 0.5))
  const before = Math.min(count - 2, Math.floor(along))
  return [before, along - before]
}
