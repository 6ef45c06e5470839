import { keepPreviousData, useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Sheet } from '../api/types'
import { useLibrary } from '../sheet/queries'
import { useSheet } from '../sheet/store'

/** Findings on the sheet as it was last kept, so that dragging a break does not ask for them at every step. */
export function useFindings() {
  const opened = useSheet((s) => s.document !== null)
  const revision = useSheet((s) => s.revision)
  const id = useSheet((s) => s.id)
  const sources = useLibrary().data?.map((item) => item.source)
  return useQuery({
    queryKey: ['findings', id, revision, sources],
    queryFn: () => answered(client.POST('/api/draw/proof', { body: useSheet.getState().document as Sheet })),
    enabled: opened && sources !== undefined,
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
}
