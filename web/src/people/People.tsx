import { type FormEvent, useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import { Desk } from '../home/Desk'
import { momentOf } from '../wording'
import { useMe, useTeams } from './queries'
import { SmallThings } from './SmallThings'
import { TeamPart } from './TeamPart'

/** Teams, and where one is signed in. */
export default function People({ me }: { me: string }) {
  const teams = useTeams()
  const makes = useMe()?.makes ?? false
  return (
    <Desk me={me} title="People">
      {teams.data?.length === 0 && (
        <Typography color="text.secondary" sx={{ mb: 3 }}>
          You are in no team. Begin one to share sheets and data with others
          {makes ? '' : ', or ask a keeper for a link'}.
        </Typography>
      )}
      {teams.data?.map((team) => (
        <TeamPart key={team.id} team={team} me={me} />
      ))}
      {makes && <NewTeam />}
      <SmallThings />
      <Sessions />
    </Desk>
  )
}

function NewTeam() {
  const queries = useQueryClient()
  const [name, setName] = useState('')
  const begin = useMutation({
    mutationFn: () => answered(client.POST('/api/teams', { body: { name } })),
    onSuccess: () => {
      setName('')
      return queries.invalidateQueries({ queryKey: ['teams'] })
    },
  })
  const send = (event: FormEvent) => {
    event.preventDefault()
    if (name.trim()) begin.mutate()
  }
  return (
    <Box component="form" onSubmit={send} sx={{ display: 'flex', gap: 2, borderTop: 1, borderColor: 'line', py: 3 }}>
      <InputBase
        value={name}
        onChange={(e) => setName(e.target.value)}
        placeholder="Name of a new team"
        inputProps={{ 'aria-label': 'Name of a new team', maxLength: limits.TeamIn.name.most }}
        sx={{
          border: 1,
          borderColor: 'line',
          bgcolor: 'raised',
          px: 1,
          height: 30,
          fontSize: 14,
          flex: 1,
          maxWidth: 320,
        }}
      />
      <Button type="submit" variant="outlined" disabled={!name.trim() || begin.isPending}>
        Begin a team
      </Button>
    </Box>
  )
}

/** Where one is signed in, each to be ended. */
function Sessions() {
  const queries = useQueryClient()
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: () => answered(client.GET('/api/sessions')) })
  const end = useMutation({
    mutationFn: (session_id: string) =>
      answered(client.DELETE('/api/sessions/{session_id}', { params: { path: { session_id } } })),
    onSuccess: (left) => queries.setQueryData(['sessions'], left),
  })
  return (
    <Box component="section" aria-label="Where you are signed in" sx={{ borderTop: 1, borderColor: 'line', py: 3 }}>
      <Typography component="h2" sx={{ fontSize: 15, fontWeight: 600 }}>
        Where you are signed in
      </Typography>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 14 }}>
        {sessions.data?.map(({ id, browser, address, seen, this: here }) => (
          <Box component="li" key={id} sx={{ display: 'flex', alignItems: 'center', gap: 2, minHeight: 32 }}>
            <Box sx={{ flex: 1 }}>
              {browser}{' '}
              <Typography component="span" variant="caption" color="text.secondary">
                from {address || 'an unknown address'}, last used {momentOf(seen)}
              </Typography>
            </Box>
            {here ? (
              <Typography variant="body2" color="text.secondary">
                here
              </Typography>
            ) : (
              <Button size="small" onClick={() => end.mutate(id)} disabled={end.isPending}>
                Sign out there
              </Button>
            )}
          </Box>
        ))}
      </Box>
    </Box>
  )
}
