import { useQuery } from '@tanstack/react-query'
import { answered, client } from '../api/client'

export const ROLES = ['reader', 'maker', 'keeper'] as const
export type Role = (typeof ROLES)[number]

export const ROLE_WORDS: Record<Role, string> = {
  reader: 'reader: looks',
  maker: 'maker: makes and changes',
  keeper: 'keeper: vets and invites besides',
}

export const useTeams = () =>
  useQuery({ queryKey: ['teams'], queryFn: () => answered(client.GET('/api/teams')), staleTime: 30_000 })

/** Who is signed in, as was asked when the page was opened. */
export const useMe = () =>
  useQuery({ queryKey: ['session'], queryFn: () => answered(client.GET('/api/session')), staleTime: 60_000 }).data
