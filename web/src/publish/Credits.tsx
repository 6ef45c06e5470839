import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Sheet } from '../api/types'
import { Labelled } from '../bench/Labelled'
import { useSheet } from '../sheet/store'

type Said = 'credits' | 'source_date' | 'terms'
const FIELDS: readonly { name: Said; label: string; example: string }[] = [
  { name: 'credits', label: 'Credits', example: 'whose data this is' },
  { name: 'source_date', label: 'Data of', example: 'May 2026' },
  { name: 'terms', label: 'Terms', example: 'how map and data may be used' },
]

/** Whom the map owes its data to, of when they are and on what terms: it stands with the map wherever that is shown. */
export function Credits() {
  const furniture = useSheet((s) => s.document?.furniture)
  const { edit } = useSheet.getState()
  const take = useMutation({
    mutationFn: () => answered(client.POST('/api/draw/credits', { body: useSheet.getState().document as Sheet })),
    onSuccess: ({ credits, source_date, terms }) =>
      edit('credits', (draft) => void Object.assign(draft.furniture, { credits, source_date, terms })),
    onError: (error: Error) => useSheet.setState({ trouble: error.message }),
  })
  const complete = FIELDS.every(({ name }) => furniture?.[name].trim())
  return (
    <Box sx={{ mt: 1 }}>
      {FIELDS.map(({ name, label, example }) => (
        <Labelled key={name} label={label} wide>
          <InputBase
            fullWidth
            value={furniture?.[name] ?? ''}
            placeholder={example}
            onChange={(e) =>
              edit(name, (draft) => void (draft.furniture = { ...draft.furniture, [name]: e.target.value }))
            }
            inputProps={{ 'aria-label': label, maxLength: limits.Furniture[name].most }}
            sx={{ fontSize: 13, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
          />
        </Labelled>
      ))}
      {!complete && (
        <Button disabled={take.isPending} onClick={() => take.mutate()} title="What is empty is filled in">
          Take what the data state
        </Button>
      )}
    </Box>
  )
}
