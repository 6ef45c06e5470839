import type { EditionPage } from '../api/types'

/** Metres on the ground to a unit of the map at a place, as the edition knows them nearby; null where it does not. */
export function metresAt(
  { box, scales }: Pick<EditionPage, 'box' | 'scales'>,
  [x = 0, y = 0]: number[],
): number | null {
  if (!scales?.length) return null
  const [west = 0, south = 0, east = 0, north = 0] = box
  const row = scales[cell((north - y) / (north - south), scales.length)] ?? []
  return row[cell((x - west) / (east - west), row.length)] ?? null
}

function cell(share: number, count: number): number {
  return Math.min(count - 1, Math.max(0, Math.floor(share * count)))
}
