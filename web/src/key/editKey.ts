import type { Layer } from '../api/types'
import { useSheet } from '../sheet/store'

/** Change how a layer stands in the key. */
export function editKey(layerId: string, tag: string, change: (key: NonNullable<Layer['key']>) => void): void {
  useSheet.getState().editLayer(layerId, tag, (draft) => {
    draft.key = { ...draft.key }
    change(draft.key)
  })
}
