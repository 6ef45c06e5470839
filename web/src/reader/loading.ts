import type { PageReader } from '../api/types'
import { type Asking, ChosenLayer } from './asking'
import { decodeColumns } from './columns'
import { unpacked } from './packed'
import type { PageLayerOnMap } from './layers'

/** Fetch what is asked of those layers that filters, time, search, distance and key name; false where some could not be reached. */
export async function loadAsked(asking: Asking, reader: PageReader, layers: PageLayerOnMap[]): Promise<boolean> {
  const named = new Set([
    ...reader.filters.map(({ layer }) => layer),
    ...reader.search.map(({ layer }) => layer),
    ...(reader.near?.layers ?? []),
    ...(reader.time ? [reader.time.layer] : []),
  ])
  return load(
    asking,
    layers.filter(({ layer }) => named.has(layer.id) || reader.key_switches),
  )
}

/** The rest of the layers whose features have something to say. */
export const loadRest = (asking: Asking, layers: PageLayerOnMap[]) =>
  load(
    asking,
    layers.filter(({ layer }) => !asking.layers.has(layer.id)),
  )

async function load(asking: Asking, layers: PageLayerOnMap[]): Promise<boolean> {
  const outcomes = await Promise.allSettled(
    layers.map(async (onMap) => {
      const { columns } = onMap.layer
      if (!columns || !onMap.shapes) return
      const answer = await fetch(columns)
      if (!answer.ok) throw new Error(`${columns}: ${answer.status}`)
      const data = decodeColumns(await unpacked(await answer.arrayBuffer()))
      await onMap.ready
      asking.add(new ChosenLayer(onMap, data))
    }),
  )
  return outcomes.every(({ status }) => status === 'fulfilled')
}
