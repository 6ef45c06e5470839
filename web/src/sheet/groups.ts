import type { Group, Layer, Sheet } from '../api/types'
import { queries } from '../api/queries'
import { startingQuery } from './queries'
import { useSheet } from './store'

export function editGroup(id: string, tag: string, change: (group: Group) => void): void {
  useSheet.getState().edit(`group-${tag}:${id}`, (draft) => {
    const group = draft.groups.find((each) => each.id === id)
    if (group) change(group)
  })
}

/** Compose a layer and the one below it as one; where that is in a group already, the layer joins it. */
export function groupWithBelow(layerId: string): void {
  const begun = queries.getQueryData(startingQuery.queryKey)?.group
  useSheet.getState().edit('group', (draft) => {
    const at = draft.layers.findIndex((layer) => layer.id === layerId)
    const [own, below] = [draft.layers[at], draft.layers[at + 1]]
    if (!own || !below || !begun) return
    if (!below.group) {
      const id = freshGroup(draft)
      draft.groups.push({ ...begun, id, name: `Group ${draft.groups.length + 1}` })
      below.group = id
    }
    own.group = below.group
    tidy(draft)
  })
}

export function leaveGroup(layerId: string): void {
  useSheet.getState().edit('ungroup', (draft) => {
    const at = draft.layers.findIndex((layer) => layer.id === layerId)
    const own = draft.layers[at]
    if (!own?.group) return
    // It comes to stand over the group, so that those that stay are still side by side.
    const first = draft.layers.findIndex((layer) => layer.group === own.group)
    own.group = null
    draft.layers.splice(at, 1)
    draft.layers.splice(first, 0, own)
    tidy(draft)
  })
}

export function ungroup(id: string): void {
  useSheet.getState().edit('dissolve', (draft) => {
    for (const layer of draft.layers) if (layer.group === id) layer.group = null
    tidy(draft)
  })
}

/** The group again, with all its layers, over itself. */
export function duplicateGroup(id: string): void {
  useSheet.getState().edit('duplicate-group', (draft) => {
    const group = draft.groups.find((each) => each.id === id)
    const members = draft.layers.filter((layer) => layer.group === id)
    if (!group) return
    const copy = freshGroup(draft)
    const taken = new Set(draft.layers.map((layer) => layer.id))
    const copies = members.map((layer) => ({ ...structuredClone(layer), id: fresh(layer.id, taken), group: copy }))
    draft.groups.push({ ...structuredClone(group), id: copy, name: `${group.name} (copy)` })
    draft.layers.splice(
      draft.layers.findIndex((layer) => layer.group === id),
      0,
      ...copies,
    )
  })
}

/** Move a layer to where another stands, and into the group that this is in. */
export function dropLayer(draft: Sheet, from: string, onto: string): void {
  const list = draft.layers
  const at = list.findIndex((layer) => layer.id === from)
  const to = list.findIndex((layer) => layer.id === onto)
  const target = list[to]
  const [moved] = list.splice(at, 1)
  if (!moved || !target) return
  moved.group = target.group ?? null
  list.splice(to, 0, moved)
  tidy(draft)
}

/** Take a layer off the map. */
export function removeFrom(draft: Sheet, layerId: string): void {
  draft.layers = draft.layers.filter((layer) => layer.id !== layerId)
  tidy(draft)
}

/** No group without a layer. */
function tidy(draft: Sheet): void {
  draft.groups = draft.groups.filter((group) => draft.layers.some((layer: Layer) => layer.group === group.id))
}

function freshGroup(draft: Sheet): string {
  return fresh('group', new Set(draft.groups.map((group) => group.id)))
}

function fresh(name: string, taken: Set<string>): string {
  let n = 1
  while (taken.has(`${name}-${n}`)) n++
  taken.add(`${name}-${n}`)
  return `${name}-${n}`
}
