import { create } from 'zustand'
import { useSheet } from '../sheet/store'
import type { UploadState } from './arriving'

export type Part = 'library' | 'import' | 'service' | 'store' | 'join' | 'places' | 'table'

interface GatherState {
  part: Part
  /** The dataset whose table is open; null: that of the chosen layer. */
  table: string | null
  /** Which rows of it are shown; '': all. */
  where: string
  /** Datasets that the condition may name. */
  others: Record<string, string>
  /** The dataset that came in last: what is joined and looked for next. */
  arrived: string | null
  /** Files that were sent and are looked at. */
  uploads: readonly UploadState[]
}

/** What is open in Gather; it stays so while another stage is seen. */
export const useGather = create<GatherState>(() => ({
  part: 'library',
  table: null,
  where: '',
  others: {},
  arrived: null,
  uploads: [],
}))

/** Show the rows of a dataset in its table, or those that a condition takes. */
export function showRows(table: string | null, where = '', others: Record<string, string> = {}): void {
  useGather.setState({ part: 'table', table, where, others })
  useSheet.getState().show('gather')
}
