import { type FormEvent, useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { Check } from '../bench/Check'
import { Choice, Labelled } from '../bench/Labelled'
import { useTeams } from './queries'

interface Props {
  id: string
  title: string
  /** Whether it is a sheet, with which its datasets are seen. */
  sheet?: boolean
  onClose: () => void
}

const SOMEBODY = ' '

/** With whom a thing is shared: people by name, teams; to look or to change. */
export function ShareDialog({ id, title, sheet = false, onClose }: Props) {
  const queries = useQueryClient()
  const teams = useTeams().data ?? []
  const [team, setTeam] = useState<string | null>(null)
  const [person, setPerson] = useState('')
  const [change, setChange] = useState(false)
  const path = { thing_id: id }
  const shares = useQuery({
    queryKey: ['shares', id],
    queryFn: () => answered(client.GET('/api/shares/{thing_id}', { params: { path } })),
  })
  const refresh = () => queries.invalidateQueries({ queryKey: ['shares', id] })
  const share = useMutation({
    mutationFn: () =>
      answered(
        client.POST('/api/shares/{thing_id}', {
          params: { path },
          body: { person, team: chosen === SOMEBODY ? null : chosen, may_change: change },
        }),
      ),
    onSuccess: () => {
      setPerson('')
      return refresh()
    },
  })
  const unshare = useMutation({
    mutationFn: (share_id: string) =>
      answered(client.DELETE('/api/shares/{thing_id}/{share_id}', { params: { path: { ...path, share_id } } })),
    onSuccess: refresh,
  })
  const chosen = team ?? teams[0]?.id ?? SOMEBODY
  const trouble = share.error ?? unshare.error
  const direct = shares.data?.filter(({ through }) => !through) ?? []
  const through = shares.data?.filter((each) => each.through) ?? []
  const send = (event: FormEvent) => {
    event.preventDefault()
    share.mutate()
  }
  return (
    <Dialog open onClose={onClose} aria-labelledby="share-title" maxWidth="xs" fullWidth>
      <DialogTitle id="share-title">Share “{title}”</DialogTitle>
      <DialogContent sx={{ display: 'flex', flexDirection: 'column', gap: 2 }}>
        <Box component="form" onSubmit={send} sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
          <Choice
            label="With"
            value={chosen}
            options={[
              ...teams.map(({ id: pk, name }): [string, string] => [pk, `the team ${name}`]),
              [SOMEBODY, 'a person'],
            ]}
            onChange={setTeam}
          />
          {chosen === SOMEBODY && (
            <Labelled label="Name">
              <InputBase
                value={person}
                onChange={(e) => setPerson(e.target.value)}
                inputProps={{ 'aria-label': 'Name of the person', autoComplete: 'off' }}
                sx={{ border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26, fontSize: 13 }}
              />
            </Labelled>
          )}
          <Check label="They may change it" checked={change} onChange={setChange} />
          <Button
            type="submit"
            variant="contained"
            disabled={share.isPending || (chosen === SOMEBODY && !person.trim())}
            sx={{ alignSelf: 'flex-start' }}
          >
            Share
          </Button>
        </Box>
        {trouble && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
            {trouble.message}
          </Typography>
        )}
        <Box component="ul" aria-label="Who sees it" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 13 }}>
          {shares.data?.length === 0 && <li>Nobody sees it but you.</li>}
          {direct.map(({ id: share_id, name, team: isTeam, may_change }) => (
            <Box component="li" key={share_id} sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
              <Box sx={{ flex: 1 }}>
                {isTeam ? `the team ${name}` : name}
                <Typography component="span" variant="caption" color="text.secondary">
                  {may_change ? (isTeam ? ' its makers may change it' : ' may change it') : ' may look'}
                </Typography>
              </Box>
              <Button
                size="small"
                aria-label={`Share with ${name} no more`}
                onClick={() => unshare.mutate(share_id)}
                disabled={unshare.isPending}
              >
                No more
              </Button>
            </Box>
          ))}
          {through.map(({ id: share_id, name, team: isTeam }) => (
            <Box component="li" key={share_id} sx={{ color: 'text.secondary' }}>
              {isTeam ? `the team ${name}` : name} sees it by a sheet that draws it
            </Box>
          ))}
        </Box>
        {sheet && (
          <Typography variant="caption" color="text.secondary">
            Who sees a sheet sees the datasets that it draws.
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Done</Button>
      </DialogActions>
    </Dialog>
  )
}
