import { useMutation, useQueryClient, type UseMutationResult } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Dataset, Edit } from '../api/types'

/** What hangs on the rows of a dataset, and is asked for again when they change. */
const DERIVED = ['ink', 'letters', 'distribution', 'card', 'findings', 'history']

/** A way to take in what a change has made of a dataset. */
export function useTakeIn(): (changed: Dataset) => void {
  const queries = useQueryClient()
  return (changed) => {
    queries.setQueryData<Dataset[]>(['datasets'], (known) =>
      known?.map((dataset) => (dataset.id === changed.id ? changed : dataset)),
    )
    // Those joined from it may be out of date now.
    void queries.invalidateQueries({ queryKey: ['datasets'] })
    for (const key of DERIVED) void queries.invalidateQueries({ queryKey: [key] })
  }
}

/** Change rows and fields of a table; all edits of a call are one step of its history. */
export function useEdit(datasetId: string): UseMutationResult<Dataset, Error, Edit[]> {
  const takeIn = useTakeIn()
  return useMutation({
    mutationFn: (edits: Edit[]) =>
      answered(
        client.POST('/api/datasets/{dataset_id}/edits', {
          params: { path: { dataset_id: datasetId } },
          body: { edits },
        }),
      ),
    onSuccess: takeIn,
  })
}

/** Put a row of a table before another, or last, in the order that a field numbers: all of it is numbered anew. */
export function useReorder(
  datasetId: string,
  field: string,
): UseMutationResult<Dataset, Error, { move: number; before: number | null }> {
  const takeIn = useTakeIn()
  return useMutation({
    mutationFn: ({ move, before }) =>
      answered(
        client.POST('/api/datasets/{dataset_id}/many', {
          params: { path: { dataset_id: datasetId } },
          body: { asked: { do: 'order', where: '', name: field, by: '', descending: false, move, before } },
        }),
      ),
    onSuccess: takeIn,
  })
}

/** Undo or redo the last change of a table. */
export function useStep(datasetId: string, which: 'undo' | 'redo'): UseMutationResult<Dataset, Error, void> {
  const takeIn = useTakeIn()
  return useMutation({
    mutationFn: () =>
      answered(client.POST(`/api/datasets/{dataset_id}/${which}`, { params: { path: { dataset_id: datasetId } } })),
    onSuccess: takeIn,
  })
}
