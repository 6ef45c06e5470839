import { useQueries, useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import type { Sort } from './Head'

const PAGE = 200

/** Rows by their place in the table, as sorted; those of the pages that the `wanted` places lie on. */
export function useRows(dataset: Dataset, sort: Sort | null, wanted: number[]): (at: number) => unknown[] | undefined {
  const pages = [...new Set(wanted.map((at) => Math.floor(at / PAGE)))]
  const query = asked(sort)
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', dataset.id, query, page, dataset.revision],
      queryFn: () =>
        answered(
          client.GET('/api/datasets/{dataset_id}/rows', {
            params: { path: { dataset_id: dataset.id }, query: { ...query, offset: page * PAGE, limit: PAGE } },
          }),
        ),
      staleTime: Infinity,
      // What was there stays in view until the changed rows have come.
      placeholderData: <T>(before: T) => before,
    })),
  })
  const loaded = new Map(pages.map((page, i) => [page, answers[i]?.data?.rows]))
  return (at) => loaded.get(Math.floor(at / PAGE))?.[at % PAGE]
}

/** At which place a feature stands in the sorted table. */
export function usePosition(dataset: Dataset, sort: Sort | null, fid: number | null): number | undefined {
  const query = asked(sort)
  const position = useQuery({
    queryKey: ['position', dataset.revision, query, fid],
    queryFn: () =>
      answered(
        client.GET('/api/datasets/{dataset_id}/position', {
          params: { path: { dataset_id: dataset.id }, query: { ...query, fid: fid ?? 0 } },
        }),
      ),
    enabled: fid !== null,
    retry: false,
  })
  return (position.data as { position?: number } | undefined)?.position
}

function asked(sort: Sort | null) {
  return { sort: sort?.field ?? '', descending: sort?.descending ?? false }
}
