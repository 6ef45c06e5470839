import { useState } from 'react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import Button from '@mui/material/Button'
import { answered, client } from '../api/client'
import { Doorstep } from './Doorstep'

/** An invitation is taken: into the team as who has signed in, or with a new account. */
export function Invited({ me }: { me: string | null }) {
  const { token = '' } = useParams()
  const go = useNavigate()
  const queries = useQueryClient()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const path = { token }
  const to = useQuery({
    queryKey: ['invitation', token],
    queryFn: () => answered(client.GET('/api/invitations/{token}', { params: { path } })),
    retry: false,
  })
  if (to.isPending) return null
  if (to.isError)
    return (
      <Doorstep
        words="This invitation was taken, taken back, or is too old. Ask for another one."
        fields={[]}
        press="To the sheets"
        onSend={async () => void (await go('/'))}
      />
    )
  return (
    <Doorstep
      words={`${to.data.made_by} invites you into the team ${to.data.team} as a ${to.data.role}.`}
      fields={
        me
          ? []
          : [
              { label: 'The name you choose', value: name, set: setName, complete: 'username' },
              {
                label: 'Your password, ten characters or more',
                value: password,
                set: setPassword,
                secret: 'new-password',
              },
            ]
      }
      press={me ? `Come in as ${me}` : 'Come in'}
      onSend={async () => {
        const answer = await answered(
          client.POST('/api/invitations/{token}', {
            params: { path },
            body: me ? { name: '', password: '' } : { name, password },
          }),
        )
        queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== 'session' })
        queries.setQueryData(['session'], answer)
        await go('/')
      }}
    >
      {!me && (
        <Button
          sx={{ alignSelf: 'flex-start', px: 0 }}
          onClick={() => void go('/', { state: { back: `/invited/${token}` } })}
        >
          I have an account: sign in first
        </Button>
      )}
    </Doorstep>
  )
}
