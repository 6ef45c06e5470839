import { useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'

export function useEditions(sheetId: string | null) {
  return useQuery({
    queryKey: ['editions', sheetId],
    queryFn: () =>
      answered(client.GET('/api/sheets/{sheet_id}/editions', { params: { path: { sheet_id: sheetId ?? '' } } })),
    enabled: sheetId !== null,
  })
}

/** My latest jobs; asked often while one of them is under way. */
export function useJobs() {
  return useQuery({
    queryKey: ['jobs'],
    queryFn: () => answered(client.GET('/api/jobs')),
    refetchInterval: (query) =>
      query.state.data?.some((job) => job.state === 'running' || job.state === 'waiting') ? 500 : false,
  })
}
