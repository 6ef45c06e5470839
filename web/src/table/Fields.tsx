import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { Glyph } from '../Glyph'
import { counted } from '../wording'
import { useEdit } from './useTable'

const TYPES = ['text', 'integer', 'number', 'date', 'boolean'] as const
const WORDS = { text: 'text', integer: 'whole numbers', number: 'numbers', date: 'dates', boolean: 'yes or no' }

/** The fields of a table: what they hold, taking one out, adding one. */
export function Fields({ dataset, onClose }: { dataset: Dataset; onClose: () => void }) {
  const edit = useEdit(dataset.id)
  const [name, setName] = useState('')
  const [type, setType] = useState<(typeof TYPES)[number]>('text')
  const add = () =>
    edit.mutate([{ do: 'add-field', name: name.trim(), type }], {
      onSuccess: () => setName(''),
    })
  return (
    <Dialog open onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="fields-title">
      <DialogTitle id="fields-title">Fields of {dataset.title}</DialogTitle>
      <DialogContent>
        <Box component="table" sx={{ width: '100%', borderCollapse: 'collapse', '& td': { py: 0.25, pr: 2 } }}>
          <tbody>
            {dataset.fields.map((field) => (
              <tr key={field.name}>
                <td>
                  <strong>{field.name}</strong>
                </td>
                <td>{WORDS[field.type as keyof typeof WORDS]}</td>
                <td>{field.missing ? `${counted(field.missing, 'row')} without` : 'in every row'}</td>
                <td style={{ textAlign: 'right' }}>
                  <Tooltip title={`Take '${field.name}' out`}>
                    <span>
                      <IconButton
                        aria-label={`Take '${field.name}' out`}
                        disabled={edit.isPending || dataset.fields.length === 1}
                        onClick={() => edit.mutate([{ do: 'delete-field', name: field.name }])}
                      >
                        <Glyph name="remove" />
                      </IconButton>
                    </span>
                  </Tooltip>
                </td>
              </tr>
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
          <Box
            component="select"
            aria-label="What it holds"
            value={type}
            onChange={(e) => setType((e.target as HTMLSelectElement).value as typeof type)}
            sx={{ font: 'inherit', fontSize: 13, height: 28, bgcolor: 'raised', color: 'text.primary' }}
          >
            {TYPES.map((one) => (
              <option key={one} value={one}>
                {WORDS[one]}
              </option>
            ))}
          </Box>
          <Button type="submit" variant="outlined" disabled={name.trim() === '' || edit.isPending}>
            Add
          </Button>
        </Box>
        {edit.error && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
            {edit.error.message}
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
          Undo in the table brings a field back with all that it held.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={onClose}>
          Done
        </Button>
      </DialogActions>
    </Dialog>
  )
}
