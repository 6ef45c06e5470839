import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Team } from '../api/types'
import { PlainSelect } from '../bench/PlainSelect'
import { EditableText } from '../key/EditableText'
import { momentOf } from '../wording'
import { ROLE_WORDS, ROLES, type Role } from './queries'

/** A team: who is in it and in which role; its keepers invite, reset and change roles. */
export function TeamPart({ team, me }: { team: Team; me: string }) {
  const queries = useQueryClient()
  const keeping = team.role === 'keeper'
  const [role, setRole] = useState<Role>('maker')
  const [link, setLink] = useState<{ words: string; address: string } | null>(null)
  const path = { team_id: team.id }
  const refresh = () => queries.invalidateQueries({ queryKey: ['teams'] })
  /** Something is asked of the server, and the team shown anew. */
  const act = useMutation({
    mutationFn: (asked: () => Promise<unknown>) => asked(),
    onSuccess: refresh,
    onError: refresh,
  })
  const rename = (name: string) =>
    act.mutate(() => answered(client.PATCH('/api/teams/{team_id}', { params: { path }, body: { name } })))
  const end = () =>
    window.confirm(`End the team '${team.name}'? What is shared with it is its owners' alone again.`) &&
    act.mutate(() => answered(client.DELETE('/api/teams/{team_id}', { params: { path } })))
  const invite = () =>
    act.mutate(async () => {
      const invitation = await answered(
        client.POST('/api/teams/{team_id}/invitations', { params: { path }, body: { role } }),
      )
      setLink({ words: `For one ${role}, good for two weeks`, address: invitation.address })
    })
  const member = (member_id: string) => ({ params: { path: { ...path, member_id } } })
  return (
    <Box component="section" aria-label={`Team ${team.name}`} sx={{ borderTop: 1, borderColor: 'line', py: 3 }}>
      <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
        <Box sx={{ flex: 1 }}>
          <EditableText
            label={`Name of the team ${team.name}`}
            most={limits.TeamIn.name.most}
            value={team.name}
            locked={!keeping}
            onChange={rename}
            sx={{ fontSize: 15, fontWeight: 600 }}
          />
        </Box>
        <Typography variant="caption" color="text.secondary">
          you are its {team.role}
        </Typography>
      </Box>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 14 }}>
        {team.members.map(({ id, name, role: theirs, resettable }) => (
          <Box component="li" key={id} sx={{ display: 'flex', alignItems: 'center', gap: 2, minHeight: 32 }}>
            <Box sx={{ flex: 1 }}>{name}</Box>
            {keeping && resettable && (
              <Button
                size="small"
                onClick={() =>
                  act.mutate(async () => {
                    const invitation = await answered(
                      client.POST('/api/teams/{team_id}/members/{member_id}/reset', member(id)),
                    )
                    setLink({
                      words: `For ${name} to choose a new password, good for a day`,
                      address: invitation.address,
                    })
                  })
                }
              >
                Let choose a new password
              </Button>
            )}
            {keeping ? (
              <RoleChoice
                label={`Role of ${name}`}
                value={theirs}
                onChange={(next) =>
                  act.mutate(() =>
                    answered(
                      client.PATCH('/api/teams/{team_id}/members/{member_id}', { ...member(id), body: { role: next } }),
                    ),
                  )
                }
              />
            ) : (
              <Typography variant="body2" color="text.secondary">
                {theirs}
              </Typography>
            )}
            {(keeping || name === me) && (
              <Button
                size="small"
                sx={{ minWidth: 76 }}
                aria-label={name === me ? `Leave ${team.name}` : `Take out ${name}`}
                onClick={() =>
                  window.confirm(
                    name === me ? `Leave the team '${team.name}'?` : `Take ${name} out of the team '${team.name}'?`,
                  ) && act.mutate(() => answered(client.DELETE('/api/teams/{team_id}/members/{member_id}', member(id))))
                }
              >
                {name === me ? 'Leave' : 'Take out'}
              </Button>
            )}
          </Box>
        ))}
        {team.invitations.map(({ id, role: theirs, made_by, ends }) => (
          <Box component="li" key={id} sx={{ display: 'flex', alignItems: 'center', gap: 2, minHeight: 32 }}>
            <Typography variant="body2" color="text.secondary" sx={{ flex: 1 }}>
              somebody whom {made_by} invited as a {theirs}, until {momentOf(ends)}
            </Typography>
            <Button
              size="small"
              onClick={() =>
                act.mutate(() =>
                  answered(
                    client.DELETE('/api/teams/{team_id}/invitations/{invitation_id}', {
                      params: { path: { ...path, invitation_id: id } },
                    }),
                  ),
                )
              }
            >
              Take back
            </Button>
          </Box>
        ))}
      </Box>
      {keeping && (
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, mt: 1 }}>
          <Button variant="outlined" onClick={invite}>
            Make a link to invite a
          </Button>
          <RoleChoice label={`Role of who is invited into ${team.name}`} value={role} onChange={setRole} />
          <Box sx={{ flex: 1 }} />
          <Button onClick={end}>End the team</Button>
        </Box>
      )}
      {link && (
        <Box role="status" sx={{ mt: 2, p: 2, bgcolor: 'tint', fontSize: 13 }}>
          {link.words}. Hand it over; it is shown this once.
          <Box component="code" sx={{ display: 'block', wordBreak: 'break-all', my: 1 }}>
            {link.address}
          </Box>
          <Button size="small" onClick={() => void navigator.clipboard.writeText(link.address)}>
            Copy
          </Button>
        </Box>
      )}
      {act.error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
          {act.error.message}
        </Typography>
      )}
    </Box>
  )
}

const ROLE_OPTIONS = ROLES.map((role) => [role, ROLE_WORDS[role]] as const)

function RoleChoice(props: { label: string; value: Role; onChange: (role: Role) => void }) {
  return <PlainSelect {...props} options={ROLE_OPTIONS} />
}
