import { answered, client } from '../api/client'
import type { Layer } from '../api/types'
import { useSheet } from '../sheet/store'

/** Draw a layer by another kind of symbol, or by the one that shows the numbers of a field; the server knows what is taken along. */
export async function turnLayer(
  layer: Layer,
  into: { kind?: 'single' | 'classed' | 'graduated' | 'proportional'; field?: string | null },
): Promise<void> {
  const symbology = await answered(
    client.POST('/api/draw/turned', {
      body: { dataset: layer.dataset, symbology: layer.symbology, kind: into.kind ?? null, field: into.field ?? null },
    }),
  )
  useSheet.getState().editLayer(layer.id, 'symbol-kind', (draft) => void (draft.symbology = symbology))
}
