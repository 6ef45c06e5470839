import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { dropLayer } from './groups'
import { fitToBox } from './mapBridge'
import { useSheet } from './store'

function freshId(taken: string[]): string {
  for (let n = taken.length + 1; ; n++) if (!taken.includes(`layer-${n}`)) return `layer-${n}`
}

/** Put a dataset on the map: the server knows in which look, so that it is like no other, and where it hides nothing. */
export async function addLayer(dataset: Dataset): Promise<void> {
  const layers = useSheet.getState().document?.layers ?? []
  const body = { dataset: dataset.id, layers }
  const { layer, at } = await answered(client.POST('/api/draw/added', { body }))
  const { document, edit, choose } = useSheet.getState()
  const id = freshId((document?.layers ?? []).map((other) => other.id))
  edit('add', (draft) => {
    draft.layers = draft.layers.toSpliced(at, 0, { ...layer, id })
    if (!draft.furniture.credits && dataset.credit) draft.furniture = { ...draft.furniture, credits: dataset.credit }
  })
  choose(id)
}

export function duplicateLayer(id: string | null): void {
  const { document, edit, choose } = useSheet.getState()
  const layers = document?.layers ?? []
  const at = layers.findIndex((layer) => layer.id === id)
  const original = layers[at]
  if (!original) return
  const copy = {
    ...structuredClone(original),
    id: freshId(layers.map((layer) => layer.id)),
    name: `${original.name} (copy)`,
  }
  edit('duplicate', (draft) => void draft.layers.splice(at, 0, copy))
  choose(copy.id)
}

export function moveLayer(id: string | null, by: -1 | 1): void {
  useSheet.getState().edit('order', (draft) => {
    const at = draft.layers.findIndex((layer) => layer.id === id)
    const onto = draft.layers[at + by]
    if (id && at >= 0 && onto) dropLayer(draft, id, onto.id)
  })
}

/** Move the map to what a layer draws, which may be some rows of its dataset, or what is made of them. */
export async function fitToLayer(id: string): Promise<void> {
  const { document } = useSheet.getState()
  const layer = document?.layers.find((each) => each.id === id)
  if (!document || !layer) return
  const alone = { ...layer, visible: true, group: null, scales: {} }
  const { box } = await answered(
    client.POST('/api/draw/extent', { body: { ...document, layers: [alone], groups: [] } }),
  )
  if (box) fitToBox(box)
}
