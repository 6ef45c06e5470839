import { useState } from 'react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { StoreAsked, Tag } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { JobLine } from '../publish/JobLine'
import { counted } from '../wording'
import { type Area, AreaChoice, boxOf } from './AreaChoice'
import { useFetching } from './fetching'
import type { UploadState } from './arriving'

/** The tagged store: which features carry any or all of some tags, in an area; counted before they are taken. */
export function StorePanel({ onArrive }: { onArrive: (upload: UploadState) => void }) {
  const [tags, setTags] = useState<Tag[]>([])
  const [match, setMatch] = useState<'any' | 'all'>('all')
  const [area, setArea] = useState<Area>({ kind: 'everywhere' })
  const { fetch, job, busy, error } = useFetching(onArrive)
  const offered = useQuery({
    queryKey: ['store-tags'],
    queryFn: () => answered(client.GET('/api/store/tags')),
    staleTime: 600_000,
  })
  const asked: StoreAsked = {
    kind: 'store',
    tags,
    match,
    within: {
      bounds: boxOf(area) ? [...(boxOf(area) ?? [])] : null,
      dataset: area.kind === 'feature' ? area.dataset : null,
      fid: area.kind === 'feature' ? area.fid : null,
    },
  }
  const ready = tags.length > 0 && (area.kind === 'everywhere' || area.kind === 'feature' || boxOf(area) !== null)
  const count = useQuery({
    queryKey: ['store-count', asked],
    queryFn: () => answered(client.POST('/api/store/count', { body: asked })),
    enabled: ready,
    placeholderData: keepPreviousData,
  })
  const options = (offered.data ?? []).flatMap(({ name, features, values }) => [
    { words: name, tag: { name, value: '' }, of: counted(features, 'feature') },
    ...values.map((value) => ({ words: `${name} = ${value}`, tag: { name, value }, of: '' })),
  ])
  const trouble = error ?? count.error ?? offered.error
  if (offered.data?.length === 0)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
        The store is empty. Whoever runs this installation can fill it.
      </Typography>
    )
  return (
    <Box
      sx={{
        overflow: 'auto',
        p: 3,
        display: 'grid',
        gridTemplateColumns: 'minmax(300px, 460px) minmax(0, 1fr)',
        gap: 4,
      }}
    >
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}>
        <Autocomplete
          multiple
          freeSolo
          size="small"
          options={options}
          getOptionLabel={(option) => (typeof option === 'string' ? option : option.words)}
          value={tags.map((tag) => wordsOf(tag))}
          filterSelectedOptions
          isOptionEqualToValue={(option, value) => (typeof option === 'string' ? option : option.words) === value}
          onChange={(_, chosen) =>
            setTags(eachOnce(chosen.map((option) => (typeof option === 'string' ? option : option.words))))
          }
          renderOption={({ key, ...props }, option) => (
            <li key={key} {...props}>
              {option.words}
              <Typography component="span" variant="caption" color="text.secondary" sx={{ ml: 1 }}>
                {option.of}
              </Typography>
            </li>
          )}
          renderInput={(params) => (
            <TextField {...params} label="Tags" placeholder={tags.length === 0 ? 'roof, or state = fallen' : ''} />
          )}
        />
        {tags.length > 1 && (
          <Choice
            label="Features with"
            value={match}
            options={[
              ['all', 'all of them'],
              ['any', 'any of them'],
            ]}
            onChange={setMatch}
          />
        )}
        <AreaChoice area={area} everywhere="everywhere" features onArea={setArea} />
        {trouble && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
            {trouble.message}
          </Typography>
        )}
        <Labelled label="">
          <Button variant="contained" disabled={!ready || busy || !count.data?.taken} onClick={() => fetch(asked)}>
            {count.data && ready ? `Take ${counted(count.data.taken, 'feature')}` : 'Take them'}
          </Button>
        </Labelled>
        {job && <JobLine job={job} />}
      </Box>
      <Box>
        {!ready && (
          <Typography variant="body2" color="text.secondary">
            Choose tags: their counts stand here before anything is taken.
          </Typography>
        )}
        {ready && count.data && (
          <Box
            component="table"
            aria-label="Counts"
            sx={{
              fontSize: 13,
              borderCollapse: 'collapse',
              '& td, & th': { px: 1.5, py: 0.5, borderBottom: 1, borderColor: 'line' },
            }}
          >
            <thead>
              <tr>
                <th style={{ textAlign: 'left' }}>{counted(count.data.there, 'feature')} there</th>
                <th style={{ textAlign: 'right' }}>with</th>
                <th style={{ textAlign: 'right' }}>without</th>
                <th aria-label="Share" />
              </tr>
            </thead>
            <tbody>
              {count.data.tags.map(({ tag, carry, lack }) => (
                <tr key={wordsOf(tag)}>
                  <td>{wordsOf(tag)}</td>
                  <td style={{ textAlign: 'right' }}>{carry.toLocaleString('en')}</td>
                  <td style={{ textAlign: 'right' }}>{lack.toLocaleString('en')}</td>
                  <td>
                    <Box sx={{ width: 120, height: 8, bgcolor: 'line' }}>
                      <Box
                        sx={{
                          width: `${(100 * carry) / Math.max(carry + lack, 1)}%`,
                          height: 8,
                          bgcolor: 'primary.main',
                        }}
                      />
                    </Box>
                  </td>
                </tr>
              ))}
              <tr>
                <td>
                  <b>{tags.length > 1 ? (match === 'all' ? 'all of them' : 'any of them') : 'taken'}</b>
                </td>
                <td style={{ textAlign: 'right' }}>
                  <b>{count.data.taken.toLocaleString('en')}</b>
                </td>
                <td style={{ textAlign: 'right' }}>{(count.data.there - count.data.taken).toLocaleString('en')}</td>
                <td />
              </tr>
            </tbody>
          </Box>
        )}
      </Box>
    </Box>
  )
}

const wordsOf = ({ name, value }: Tag) => (value ? `${name} = ${value}` : name)

/** A tag as it is typed: its name, or name = value. */
export function tagOf(words: string): Tag {
  const [name = '', ...rest] = words.split('=')
  return { name: name.trim(), value: rest.join('=').trim() }
}

/** Tags as they are written, none twice. */
function eachOnce(written: string[]): Tag[] {
  const tags = new Map(written.map((words) => tagOf(words)).map((tag) => [wordsOf(tag), tag]))
  return [...tags.values()]
}
