import { useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { CrossEntry, CrossList } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { EditableText } from '../key/EditableText'
import { counted } from '../wording'

const NONE = ' '

interface Props {
  /** What was settled by hand so far, which can be kept. */
  entries: CrossEntry[]
  used: string | null
  onUse: (list: CrossList | null) => void
}

function useCrossLists() {
  return useQuery({
    queryKey: ['cross-lists'],
    queryFn: () => answered(client.GET('/api/cross-lists', {})),
    staleTime: 30_000,
  })
}

/** Spellings that were settled once: used again, kept under a title, edited. */
export function CrossLists({ entries, used, onUse }: Props) {
  const queries = useQueryClient()
  const lists = useCrossLists().data ?? []
  const [title, setTitle] = useState('')
  const [editing, setEditing] = useState(false)
  const open = lists.find(({ id }) => id === used)
  const keep = useMutation({
    mutationFn: () => answered(client.POST('/api/cross-lists', { body: { title, entries } })),
    onSuccess: () => {
      setTitle('')
      void queries.invalidateQueries({ queryKey: ['cross-lists'] })
    },
  })
  return (
    <>
      {lists.length > 0 && (
        <Choice
          label="Cross-list"
          value={open ? open.id : NONE}
          options={[
            [NONE, 'none'],
            ...lists.map(({ id, title: words, entries: pairs }): [string, string] => [
              id,
              `${words} (${pairs.length})`,
            ]),
          ]}
          onChange={(id) => onUse(lists.find((list) => list.id === id) ?? null)}
        />
      )}
      {open && (
        <Button size="small" onClick={() => setEditing(true)}>
          Edit the list
        </Button>
      )}
      {entries.length > 0 && (
        <Box
          component="form"
          onSubmit={(e) => {
            e.preventDefault()
            if (title.trim()) keep.mutate()
          }}
        >
          <Labelled label="Keep as list">
            <InputBase
              value={title}
              placeholder={counted(entries.length, 'spelling')}
              onChange={(e) => setTitle(e.target.value)}
              inputProps={{ 'aria-label': 'Title of the cross-list', maxLength: limits.CrossListIn.title.most }}
              sx={{ flex: 1, fontSize: 12.5, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
            />
            <Button size="small" type="submit" disabled={!title.trim() || keep.isPending}>
              Keep
            </Button>
          </Labelled>
        </Box>
      )}
      {keep.error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {keep.error.message}
        </Typography>
      )}
      {editing && open && (
        <EditList
          key={open.id}
          list={open}
          onDone={(changed) => {
            setEditing(false)
            void queries.invalidateQueries({ queryKey: ['cross-lists'] })
            if (changed !== undefined) onUse(changed)
          }}
        />
      )}
    </>
  )
}

interface EditProps {
  list: CrossList
  /** The list as it is now, null where it is gone, nothing where it was left as it was. */
  onDone: (changed?: CrossList | null) => void
}

function EditList({ list, onDone }: EditProps) {
  const [title, setTitle] = useState(list.title)
  const [entries, setEntries] = useState<CrossEntry[]>(list.entries)
  const path = { list_id: list.id }
  const save = useMutation({
    mutationFn: () =>
      answered(client.PUT('/api/cross-lists/{list_id}', { params: { path }, body: { title, entries } })),
    onSuccess: onDone,
  })
  const remove = useMutation({
    mutationFn: () => answered(client.DELETE('/api/cross-lists/{list_id}', { params: { path } })),
    onSuccess: () => onDone(null),
  })
  const set = (at: number, values: Partial<CrossEntry>) =>
    setEntries(entries.map((entry, i) => (i === at ? { ...entry, ...values } : entry)))
  const trouble = save.error ?? remove.error
  const regions = entries.some(({ region, means_region }) => region || means_region)
  return (
    <Dialog open onClose={() => onDone()} maxWidth="md" fullWidth>
      <DialogTitle sx={{ pb: 0 }}>
        <EditableText
          label="Title of the list"
          most={limits.CrossListIn.title.most}
          value={title}
          onChange={setTitle}
          sx={{ fontWeight: 600 }}
        />
      </DialogTitle>
      <DialogContent>
        <Box
          component="table"
          aria-label="Spellings"
          sx={{
            width: '100%',
            fontSize: 13,
            borderCollapse: 'collapse',
            '& td': { borderBottom: 1, borderColor: 'line' },
          }}
        >
          <thead>
            <tr>
              <th style={{ textAlign: 'left' }}>Spelling</th>
              {regions && <th style={{ textAlign: 'left' }}>in</th>}
              <th style={{ textAlign: 'left' }}>stands for</th>
              {regions && <th style={{ textAlign: 'left' }}>in</th>}
              <th aria-label="Take out" />
            </tr>
          </thead>
          <tbody>
            {entries.map((entry, i) => (
              <tr key={`${entry.spelling}|${entry.region}`}>
                <td>{entry.spelling || '(blank)'}</td>
                {regions && <td>{entry.region}</td>}
                <td>
                  {entry.at ? (
                    `${entry.at[0]}, ${entry.at[1]}`
                  ) : (
                    <EditableText
                      label={`What ${entry.spelling} stands for`}
                      most={limits.CrossEntry.means.most}
                      value={entry.means}
                      onChange={(means) => set(i, { means })}
                    />
                  )}
                </td>
                {regions && <td>{entry.means_region}</td>}
                <td style={{ textAlign: 'right' }}>
                  <Button
                    size="small"
                    aria-label={`Take ${entry.spelling} out`}
                    onClick={() => setEntries(entries.filter((_, at) => at !== i))}
                  >
                    Take out
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Box>
        <Typography variant="caption" color="text.secondary">
          What stands for nothing is left out.
        </Typography>
        {trouble && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
            {trouble.message}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button href={`/api/cross-lists/${list.id}/csv`}>Download as CSV</Button>
        {list.may.includes('remove') && (
          <Button onClick={() => window.confirm(`Remove the list '${list.title}'?`) && remove.mutate()}>Remove</Button>
        )}
        <Button onClick={() => onDone()}>Leave as it was</Button>
        <Button
          variant="contained"
          disabled={save.isPending || !list.may.includes('change')}
          onClick={() => save.mutate()}
        >
          Keep changes
        </Button>
      </DialogActions>
    </Dialog>
  )
}
