import type { HandLabel } from '../api/types'
import { useSheet } from '../sheet/store'

/** Change what is done by hand to the label of a feature; null puts it back. */
export function changeByHand(layerId: string, fid: number, tag: string, change: Partial<HandLabel> | null): void {
  useSheet.getState().editLayer(layerId, `by-hand-${tag}-${fid}`, (draft) => {
    if (!draft.lettering) return
    const others = draft.lettering.by_hand.filter((each) => each.fid !== fid)
    const own = draft.lettering.by_hand.find((each) => each.fid === fid)
    draft.lettering.by_hand = change
      ? [...others, { hidden: false, turn: 0, leader: false, ...own, fid, ...change }]
      : others
  })
}

/** What is done by hand to the label of a feature; null for nothing. */
export function byHand(hands: readonly HandLabel[] | undefined, fid: number | null): HandLabel | null {
  return hands?.find((each) => each.fid === fid) ?? null
}
