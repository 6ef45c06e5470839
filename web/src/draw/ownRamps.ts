import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import type { KeptRamp } from '../api/types'

const OWN = ['own-ramps']

/** The ramps that one keeps, in `n` colours each, and how one is taken out of the library. */
export function useOwnRamps(n: number): { ramps: KeptRamp[]; remove: (ramp: KeptRamp) => void } {
  const queries = useQueryClient()
  const { data } = useQuery({
    queryKey: [...OWN, n],
    queryFn: () => answered(client.GET('/api/ramps', { params: { query: { n } } })),
    staleTime: 30_000,
    placeholderData: keepPreviousData,
  })
  const { mutate } = useMutation({
    mutationFn: ({ id }: KeptRamp) =>
      answered(client.DELETE('/api/ramps/{ramp_id}', { params: { path: { ramp_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: OWN }),
  })
  return { ramps: data ?? [], remove: mutate }
}

/** Keep a ramp by a name; one of that name is replaced. */
export function useKeepRamp() {
  const queries = useQueryClient()
  return useMutation({
    mutationFn: (body: { name: string; stops: string[] }) => answered(client.POST('/api/ramps', { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: OWN }),
  })
}
