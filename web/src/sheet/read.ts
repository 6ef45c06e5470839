import type { Dataset, Layer } from '../api/types'

const CELLS = ['value', 'count']
const KINDS = { centres: 'points', grid: 'areas', dots: 'points' } as const

/** A dataset as a layer's reading makes it: of what kind it is then, and which fields it has. */
export function asRead(dataset: Dataset, layer: Layer): Dataset {
  const { reading } = layer
  if (!reading) return dataset
  const meaning = { kind: 'count', unit: '', decimals: null, missing: [], reason: '' } as const
  const cells = CELLS.map((name) => ({ name, type: 'number', missing: 0, meaning }))
  const fields = reading.by === 'grid' ? (cells as unknown as Dataset['fields']) : dataset.fields
  return { ...dataset, kind: KINDS[reading.by], fields }
}
