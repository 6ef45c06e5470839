import { useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { useNavigate, useParams } from 'react-router'
import { answered, client } from '../api/client'
import { Doorstep } from './Doorstep'

/** Somebody who forgot a password chooses another one, by a link that a keeper handed over. */
export function NewPassword() {
  const { person = '', token = '' } = useParams()
  const go = useNavigate()
  const queries = useQueryClient()
  const [password, setPassword] = useState('')
  const [again, setAgain] = useState('')
  return (
    <Doorstep
      words="Choose a new password. Wherever you are signed in, that ends."
      fields={[
        { label: 'The new one, ten characters or more', value: password, set: setPassword, secret: 'new-password' },
        { label: 'The new one again', value: again, set: setAgain, secret: 'new-password' },
      ]}
      press="Choose it"
      onSend={async () => {
        if (password !== again) throw new Error('The two are not the same.')
        await answered(client.POST('/api/new-password', { body: { person: Number(person), token, password } }))
        await queries.invalidateQueries({ queryKey: ['session'] })
        await go('/')
      }}
    />
  )
}
