import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { FieldLine, WORDS } from './FieldLine'
import { PlainSelect } from '../bench/PlainSelect'
import { TableDialog } from './TableDialog'
import { useEdit } from './useTable'

const TYPES = ['text', 'integer', 'number', 'date', 'boolean'] as const

/** The fields of a table: what they hold and mean, taking one out, adding one. */
export function Fields({ dataset, onClose }: { dataset: Dataset; onClose: () => void }) {
  const edit = useEdit(dataset.id)
  const [name, setName] = useState('')
  const [type, setType] = useState<(typeof TYPES)[number]>('text')
  const add = () =>
    edit.mutate([{ do: 'add-field', name: name.trim(), type }], {
      onSuccess: () => setName(''),
    })
  return (
    <TableDialog title={`Fields of ${dataset.title}`} trouble={edit.error?.message} onClose={onClose}>
      <Box
        component="table"
        sx={{
          width: '100%',
          borderCollapse: 'collapse',
          '& td, & th': { py: 0.25, pr: 2, fontSize: 13, textAlign: 'left' },
          '& th': { fontWeight: 400, color: 'text.secondary' },
        }}
      >
        <thead>
          <tr>
            {['field', 'holds', 'filled', 'means', 'unit', 'decimals', 'missing is'].map((words) => (
              <th key={words}>{words}</th>
            ))}
            <td />
          </tr>
        </thead>
        <tbody>
          {dataset.fields.map((field) => (
            <FieldLine
              key={field.name}
              field={field}
              busy={edit.isPending}
              only={dataset.fields.length === 1}
              onEdit={(change) => edit.mutate([change])}
            />
          ))}
        </tbody>
      </Box>
      <Box
        component="form"
        onSubmit={(e) => {
          e.preventDefault()
          add()
        }}
        sx={{ display: 'flex', gap: 1, mt: 2, alignItems: 'center' }}
      >
        <InputBase
          value={name}
          placeholder="Name of a new field"
          onChange={(e) => setName(e.target.value)}
          inputProps={{ 'aria-label': 'Name of a new field' }}
          sx={{ flex: 1, fontSize: 13, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 28 }}
        />
        <PlainSelect
          label="What it holds"
          value={type}
          options={TYPES.map((each) => [each, WORDS[each]] as const)}
          onChange={setType}
          sx={{ height: 28 }}
        />
        <Button type="submit" variant="outlined" disabled={name.trim() === '' || edit.isPending}>
          Add
        </Button>
      </Box>
      <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
        What a field means is guessed; point at it to read why. Keys, labels, cards and Proof go by it. Undo in the
        table brings back a field with all that it held.
      </Typography>
    </TableDialog>
  )
}
