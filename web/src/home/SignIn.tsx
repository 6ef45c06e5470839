import { useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { useLocation, useNavigate } from 'react-router'
import { answered, client } from '../api/client'
import { Doorstep } from '../people/Doorstep'

export function SignIn() {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const queries = useQueryClient()
  const go = useNavigate()
  const { state } = useLocation() as { state: unknown }
  return (
    <Doorstep
      words="From tables and rasters to maps that others can read."
      fields={[
        { label: 'Name', value: name, set: setName, complete: 'username' },
        { label: 'Password', value: password, set: setPassword, secret: 'current-password' },
      ]}
      press="Sign in"
      onSend={async () => {
        const me = await answered(client.POST('/api/session', { body: { name, password } }))
        // Who came by an invitation goes on with it.
        const { back } = (state ?? {}) as { back?: string }
        if (back) await go(back)
        queries.setQueryData(['session'], me)
      }}
    />
  )
}
