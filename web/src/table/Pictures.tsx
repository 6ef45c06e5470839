import { type ChangeEvent, useRef, useState } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, Picture } from '../api/types'
import { PlainSelect } from '../bench/PlainSelect'
import { EditableText } from '../key/EditableText'
import { useChosenIn, useSheet } from '../sheet/store'
import { counted } from '../wording'
import { attach, droppedPictures, dragsFiles, picturesChanged, useAttaching } from './attaching'

const SHOWN = 60

/** Pictures of the rows of a dataset: those of the chosen row, sent or dropped, or many at once by their names. */
export function Pictures({ dataset }: { dataset: Dataset }) {
  const { changed, busy, troubles } = useAttaching()
  const { fid } = useChosenIn(dataset.id)
  const [credit, setCredit] = useState('')
  const [field, setField] = useState('')
  const [over, setOver] = useState(false)
  const file = useRef<HTMLInputElement>(null)
  const byName = useRef(false)
  const texts = dataset.fields.filter(({ type }) => type === 'text' || type === 'integer')
  const named = field || (texts.find(({ meaning }) => meaning.kind === 'name') ?? texts[0])?.name || ''
  const pictures = useQuery({
    queryKey: ['pictures', dataset.id, changed],
    queryFn: () =>
      answered(client.GET('/api/datasets/{dataset_id}/pictures', { params: { path: { dataset_id: dataset.id } } })),
    placeholderData: (before) => before,
  })
  const all = pictures.data ?? []
  const own = all.filter((picture) => picture.fid === fid)
  const others = all.filter((picture) => picture.fid !== fid)
  const may = dataset.may.includes('change')
  const send = (files: readonly File[], name: boolean) =>
    void attach(dataset.id, files, name || fid === null ? { field: named } : { fid }, credit)
  const choose = (name: boolean) => {
    byName.current = name
    file.current?.click()
  }
  return (
    <Box
      role="group"
      aria-label="Pictures"
      onDragOver={(e) => {
        if (!dragsFiles(e.dataTransfer) || !may) return
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={(e) => {
        e.preventDefault()
        setOver(false)
        if (may) send(droppedPictures(e.dataTransfer), true)
      }}
      sx={{
        width: 300,
        flexShrink: 0,
        borderLeft: 1,
        borderColor: 'line',
        overflow: 'auto',
        p: 1,
        fontSize: 12.5,
        bgcolor: over ? 'tint' : 'transparent',
      }}
    >
      {may && (
        <>
          <InputBase
            value={credit}
            onChange={(e) => setCredit(e.target.value)}
            placeholder="Whose the next pictures are"
            inputProps={{ 'aria-label': 'Credit of the next pictures', maxLength: limits.PictureChange.credit.most }}
            sx={{ fontSize: 12.5, width: '100%', border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
          />
          <input
            ref={file}
            type="file"
            accept="image/png,image/jpeg,image/webp"
            multiple
            hidden
            aria-label="Picture files"
            onChange={(e: ChangeEvent<HTMLInputElement>) => {
              send([...(e.target.files ?? [])], byName.current)
              e.target.value = ''
            }}
          />
          <Box sx={{ display: 'flex', gap: 1, alignItems: 'center', flexWrap: 'wrap', my: 1 }}>
            <Button size="small" variant="outlined" disabled={fid === null || busy > 0} onClick={() => choose(false)}>
              {fid === null ? 'To the chosen row' : `To row ${fid + 1}`}
            </Button>
            <Button size="small" variant="outlined" disabled={!named || busy > 0} onClick={() => choose(true)}>
              Many, by name
            </Button>
            <PlainSelect
              label="Field that the files are named by"
              value={named}
              options={texts.map(({ name }) => name)}
              onChange={setField}
              sx={{ maxWidth: 110 }}
            />
          </Box>
          <Typography variant="caption" color="text.secondary">
            Or drop them: onto a row, onto a feature of the map, or here, by their names.
          </Typography>
        </>
      )}
      <Box role="status">{busy > 0 && `Attaching, ${busy} to go …`}</Box>
      {troubles.map((trouble) => (
        <Typography key={trouble} role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {trouble}
        </Typography>
      ))}
      {own.map((picture) => (
        <OnePicture key={picture.id} picture={picture} may={may} />
      ))}
      {fid !== null && own.length === 0 && <Box sx={{ mt: 1 }}>Row {fid + 1} has no picture.</Box>}
      {others.length > 0 && (
        <>
          <Typography variant="body2" sx={{ mt: 2, fontWeight: 600 }}>
            {counted(others.length, 'picture')} of {own.length > 0 ? 'other rows' : 'rows'}
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
            {others.slice(0, SHOWN).map((picture) => (
              <ButtonBase
                key={picture.id}
                aria-label={`Row ${picture.fid + 1}`}
                title={picture.credit || 'no credit'}
                onClick={() => useSheet.getState().chooseRows(dataset.id, [picture.fid])}
                sx={{ border: 1, borderColor: picture.credit ? 'line' : 'error.main' }}
              >
                <img
                  src={`/api/pictures/${picture.id}/thumb`}
                  alt=""
                  width={52}
                  height={52}
                  style={{ objectFit: 'cover' }}
                />
              </ButtonBase>
            ))}
          </Box>
        </>
      )}
      {pictures.data?.length === 0 && fid === null && (
        <Box sx={{ mt: 1 }}>No row has a picture yet. Choose a row, or send many at once by their names.</Box>
      )}
    </Box>
  )
}

function OnePicture({ picture, may }: { picture: Picture; may: boolean }) {
  const path = { picture_id: picture.id }
  const describe = useMutation({
    mutationFn: (body: { credit?: string; text?: string }) =>
      answered(client.PATCH('/api/pictures/{picture_id}', { params: { path }, body })),
    onSuccess: picturesChanged,
  })
  const remove = useMutation({
    mutationFn: async () => {
      await client.DELETE('/api/pictures/{picture_id}', { params: { path } })
    },
    onSuccess: picturesChanged,
  })
  return (
    <Box component="figure" sx={{ m: 0, my: 1 }}>
      <a href={`/api/pictures/${picture.id}/full`} target="_blank" rel="noreferrer">
        <img
          src={`/api/pictures/${picture.id}/thumb`}
          alt={picture.text || `Picture of row ${picture.fid + 1}`}
          style={{ maxWidth: '100%', display: 'block' }}
        />
      </a>
      {(['text', 'credit'] as const).map((what) => (
        <EditableText
          key={what}
          label={what === 'text' ? 'What it shows' : 'Whose it is'}
          most={limits.PictureChange[what].most}
          value={picture[what]}
          locked={!may}
          onChange={(words) => describe.mutate({ [what]: words })}
          placeholder={what === 'text' ? 'what it shows' : 'no credit: whose is it?'}
          sx={{ width: '100%', fontSize: 12.5 }}
        />
      ))}
      {may && (
        <Button size="small" sx={{ px: 0 }} disabled={remove.isPending} onClick={() => remove.mutate()}>
          Take it away
        </Button>
      )}
    </Box>
  )
}
