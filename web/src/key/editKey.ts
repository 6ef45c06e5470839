import type { Layer } from '../api/types'
import { useSheet } from '../sheet/store'

/** Change how a layer stands in the key. */
export function editKey(layerId: string, tag: string, change: (key: NonNullable<Layer['key']>) => void): void {
  useSheet.getState().editLayer(layerId, tag, (draft) => {
    draft.key = { ...draft.key }
    change(draft.key)
  })
}

/** Say something of the key in other words; none, or those it came with, take that back. */
export function reword(layerId: string, { id, made_text }: { id: string; made_text: string }, text: string): void {
  editKey(layerId, `entry-${id}`, (key) => {
    key.entries = { ...key.entries }
    if (text.trim() === '' || text === made_text) delete key.entries[id]
    else key.entries[id] = text
  })
}
