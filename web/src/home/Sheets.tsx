import { type SyntheticEvent, useState } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { Glyph } from '../Glyph'
import { useMe } from '../people/queries'
import { ShareDialog } from '../people/ShareDialog'
import { copyOf } from '../sheet/copying'
import { startingQuery } from '../sheet/queries'
import { momentOf } from '../wording'
import { Desk } from './Desk'

/** The desk: all sheets of a person, the one worked on last first. */
export function Sheets({ me }: { me: string }) {
  const go = useNavigate()
  const queries = useQueryClient()
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => answered(client.GET('/api/sheets')) })
  const begin = useMutation({
    /** Like no other, or as a copy of one. */
    mutationFn: async (of: string | null) =>
      of ? copyOf(of) : answered(client.POST('/api/sheets', { body: (await queries.fetchQuery(startingQuery)).sheet })),
    onSuccess: (sheet) => void go(`/sheets/${sheet.id}/gather`),
  })
  const makes = useMe()?.makes ?? false
  const [sharing, setSharing] = useState<{ id: string; title: string } | null>(null)
  const remove = useMutation({
    mutationFn: (id: string) =>
      answered(client.DELETE('/api/sheets/{sheet_id}', { params: { path: { sheet_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['sheets'] }),
  })
  return (
    <Desk
      me={me}
      title="Sheets"
      action={
        makes && (
          <Button variant="contained" onClick={() => begin.mutate(null)} disabled={begin.isPending}>
            Begin a sheet
          </Button>
        )
      }
    >
      {sheets.data?.length === 0 && (
        <Typography color="text.secondary">
          {makes
            ? 'No sheet yet. Begin one, then bring in a table, areas or a raster.'
            : 'No sheet is shared with you yet.'}
        </Typography>
      )}
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, borderTop: 1, borderColor: 'line' }}>
        {sheets.data?.map((sheet) => (
          <Box
            component="li"
            key={sheet.id}
            sx={{ display: 'flex', alignItems: 'center', borderBottom: 1, borderColor: 'line' }}
          >
            <ButtonBase
              onClick={() => void go(`/sheets/${sheet.id}`)}
              sx={{
                flex: 1,
                justifyContent: 'flex-start',
                px: 2,
                py: 3,
                textAlign: 'left',
                '&:hover': { bgcolor: 'tint' },
              }}
            >
              <Box
                component="img"
                src={`/api/draw/sheets/${sheet.id}/picture?revision=${sheet.revision}`}
                alt=""
                width={144}
                height={90}
                loading="lazy"
                // An empty sheet has no picture: its place stays plain.
                onError={(e: SyntheticEvent<HTMLImageElement>) => (e.currentTarget.style.visibility = 'hidden')}
                sx={{ mr: 4, bgcolor: 'line', objectFit: 'cover', fontSize: 0 }}
              />
              <Box>
                <Typography sx={{ fontSize: 15, fontWeight: 600 }}>{sheet.title}</Typography>
                <Typography variant="caption" color="text.secondary">
                  {sheet.owner !== me &&
                    `of ${sheet.owner}, ${sheet.may.includes('change') ? 'to change' : 'to look at'} · `}
                  changed {momentOf(sheet.changed)} · revision {sheet.revision}
                </Typography>
              </Box>
            </ButtonBase>
            {makes && (
              <Tooltip title="Make a copy of my own">
                <IconButton aria-label={`Copy ${sheet.title}`} onClick={() => begin.mutate(sheet.id)}>
                  <Glyph name="copy" />
                </IconButton>
              </Tooltip>
            )}
            {sheet.may.includes('share') && (
              <Tooltip title="Share this sheet">
                <IconButton aria-label={`Share ${sheet.title}`} onClick={() => setSharing(sheet)}>
                  <Glyph name="person" />
                </IconButton>
              </Tooltip>
            )}
            {sheet.may.includes('remove') && (
              <Tooltip title="Remove this sheet, its history and its editions">
                <IconButton
                  aria-label={`Remove ${sheet.title}`}
                  onClick={() =>
                    window.confirm(`Remove '${sheet.title}' for good, with its history and its published editions?`) &&
                    remove.mutate(sheet.id)
                  }
                >
                  <Glyph name="remove" />
                </IconButton>
              </Tooltip>
            )}
          </Box>
        ))}
      </Box>
      {sharing && <ShareDialog id={sharing.id} title={sharing.title} sheet onClose={() => setSharing(null)} />}
    </Desk>
  )
}
