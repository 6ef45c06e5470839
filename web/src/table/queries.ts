import { useQueries, useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import type { Sort } from './Head'

const PAGE = 200

/** Which rows are shown, and in which order. */
export interface Shown {
  sort: Sort | null
  /** A condition; '': all of them. */
  where: string
  /** Datasets that it may name. */
  others: Record<string, string>
}

/** Rows by their place in the table, as sorted; those of the pages that the `wanted` places lie on. */
export function useRows(
  dataset: Dataset,
  { sort, where, others }: Shown,
  wanted: number[],
  fetching = true,
): { rowAt: (at: number) => unknown[] | undefined; total: number | undefined } {
  const pages = [...new Set(wanted.map((at) => Math.floor(at / PAGE)))]
  const query = asked({ sort, where, others })
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', dataset.id, query, page, dataset.revision],
      // Pages that have scrolled by before they came are not waited for.
      queryFn: ({ signal }: { signal: AbortSignal }) =>
        answered(
          client.GET('/api/datasets/{dataset_id}/rows', {
            params: { path: { dataset_id: dataset.id }, query: { ...query, offset: page * PAGE, limit: PAGE } },
            signal,
          }),
        ),
      enabled: fetching,
      staleTime: Infinity,
      structuralSharing: false,
      // What was there stays in view until the changed rows have come; never the rows of another page.
      placeholderData: <T>(before: T, known?: { queryKey: readonly unknown[] }) =>
        known?.queryKey[3] === page ? before : undefined,
    })),
  })
  const loaded = new Map(pages.map((page, i) => [page, answers[i]?.data?.rows]))
  return {
    rowAt: (at) => loaded.get(Math.floor(at / PAGE))?.[at % PAGE],
    total: answers.find((answer) => answer.data)?.data?.total,
  }
}

/** At which place a feature stands in the sorted table. */
export function usePosition(dataset: Dataset, { sort, where, others }: Shown, fid: number | null): number | undefined {
  const query = asked({ sort, where, others })
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

function asked({ sort, where, others }: Shown) {
  const named = Object.keys(others).length ? JSON.stringify(others) : ''
  return { sort: sort?.field ?? '', descending: sort?.descending ?? false, where, others: named }
}
