import type { SyntheticEvent } from 'react'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useNavigate } from 'react-router'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { Account } from '../course/Account'
import { Glyph } from '../Glyph'
import { startingQuery } from '../sheet/queries'
import { momentOf } from '../wording'

/** The desk: all sheets of a person, the one worked on last first. */
export function Sheets({ me }: { me: string }) {
  const go = useNavigate()
  const queries = useQueryClient()
  const sheets = useQuery({ queryKey: ['sheets'], queryFn: () => answered(client.GET('/api/sheets')) })
  const begin = useMutation({
    mutationFn: async () =>
      answered(client.POST('/api/sheets', { body: (await queries.fetchQuery(startingQuery)).sheet })),
    onSuccess: (sheet) => void go(`/sheets/${sheet.id}/gather`),
  })
  const remove = useMutation({
    mutationFn: (id: string) =>
      answered(client.DELETE('/api/sheets/{sheet_id}', { params: { path: { sheet_id: id } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['sheets'] }),
  })
  return (
    <Box sx={{ height: '100%', overflow: 'auto' }}>
      <Box
        component="header"
        sx={{
          display: 'flex',
          alignItems: 'center',
          px: 4,
          height: 40,
          borderBottom: 1,
          borderColor: 'line',
          bgcolor: 'background.paper',
        }}
      >
        <Typography sx={{ fontWeight: 600, flex: 1 }}>Grey Latch</Typography>
        <Account me={me} />
      </Box>
      <Box component="main" sx={{ maxWidth: 760, mx: 'auto', px: 4, py: 8 }}>
        <Box sx={{ display: 'flex', alignItems: 'baseline', mb: 3 }}>
          <Typography component="h1" sx={{ fontSize: 20, fontWeight: 600, flex: 1 }}>
            Sheets
          </Typography>
          <Button variant="contained" onClick={() => begin.mutate()} disabled={begin.isPending}>
            Begin a sheet
          </Button>
        </Box>
        {sheets.data?.length === 0 && (
          <Typography color="text.secondary">
            No sheet yet. Begin one, then bring in a table, areas or a raster.
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
                    changed {momentOf(sheet.changed)} · revision {sheet.revision}
                  </Typography>
                </Box>
              </ButtonBase>
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
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  )
}
