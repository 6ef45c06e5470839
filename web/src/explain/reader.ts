import type { Dataset, Layer, Sheet } from '../api/types'
import { useDatasets } from '../sheet/queries'
import { asRead } from '../sheet/read'
import { useSheet } from '../sheet/store'

export type Reader = Sheet['reader']
export type Filter = Reader['filters'][number]

/** Change what readers can ask. */
export function editReader(tag: string, change: (reader: Reader) => void): void {
  useSheet.getState().edit(`reader-${tag}`, (draft) => change(draft.reader))
}

export const useReader = () => useSheet((s) => s.document?.reader)

export interface Asked {
  layer: Layer
  fields: Dataset['fields']
}

/** The layers of shapes, whose features readers can choose among, with the fields that they have as they are read. */
export function useAskedLayers(): Asked[] {
  const layers = useSheet((s) => s.document?.layers)
  const datasets = useDatasets()
  return (layers ?? []).flatMap((layer) => {
    const kept = datasets.find(({ id }) => id === layer.dataset)
    const dataset = kept && asRead(kept, layer)
    return dataset && dataset.kind !== 'raster' && dataset.kind !== 'table' ? [{ layer, fields: dataset.fields }] : []
  })
}

export const fieldsOf = (asked: Asked[], layer: string): Dataset['fields'] =>
  asked.find((each) => each.layer.id === layer)?.fields ?? []
