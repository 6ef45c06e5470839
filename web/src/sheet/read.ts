import type { Dataset, Layer, Reading } from '../api/types'
import { begun } from './queries'

/** A dataset, or what a reading makes of it. */
export type ReadDataset = Dataset & { reading?: Reading | null }

/** A dataset as a layer's reading makes it: of what kind it is then, and which fields it has. */
export function asRead(dataset: Dataset, layer: Layer): ReadDataset {
  const { reading } = layer
  if (!reading) return dataset
  const read = dataset.readings[reading.by]
  return read ? { ...dataset, ...read, reading } : dataset
}

/** Whose rows are meant: a dataset's, or those that a reading makes of it. */
export interface RowsOf {
  dataset: string
  filter: string
  reading: Reading | null
  /** Datasets whose shapes conditions may name. */
  others: Record<string, string>
}

/** The rows that a layer draws, which its rules and looks are about. */
export function rowsOf({ dataset, filter, reading, others }: Layer): RowsOf {
  return { dataset, filter, reading: reading ?? null, others }
}

/** The same of a dataset as it was read. */
export function rowsRead({ id, reading }: ReadDataset): RowsOf {
  return { dataset: id, filter: '', reading: reading ?? null, others: {} }
}

/** Whether what a layer draws are the rows of its dataset: areas at their centres are, what is counted in cells or stands as dots is not. */
export function drawsRows({ reading }: Layer): boolean {
  return !reading || (begun()?.keeping_rows.includes(reading.by) ?? false)
}

/** The rows among which a layer's filter chooses: before anything is made of them, but of a raster what was made of it. */
export function rowsFiltered(layer: Layer): RowsOf {
  const reading = layer.reading?.by === 'contours' ? layer.reading : null
  return { dataset: layer.dataset, filter: '', reading, others: layer.others }
}
