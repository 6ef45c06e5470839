import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import CircularProgress from '@mui/material/CircularProgress'
import InputBase from '@mui/material/InputBase'
import Popover from '@mui/material/Popover'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Corrections, LikelyPlace, Preview } from '../api/types'
import { Labelled } from '../bench/Labelled'
import { useDatasets } from '../sheet/queries'
import { GlanceMap } from './GlanceMap'

interface Props {
  upload: string
  preview: Preview
  corrections: Partial<Corrections>
  onChange: (values: Partial<Corrections>) => void
}

/** The system of a file's coordinates, where that puts the data, and where else they may lie. */
export function WhereItLies({ upload, preview, corrections, onChange }: Props) {
  const [text, setText] = useState('')
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const others = useDatasets()
  const look = useMutation({
    mutationFn: () =>
      answered(
        client.POST('/api/uploads/{upload_id}/elsewhere', {
          params: { path: { upload_id: upload } },
          body: corrections as Corrections,
        }),
      ),
  })
  // A raster says itself where it lies, unless it says nothing.
  const raster = preview.kind === 'raster'
  const open = !raster || preview.crs == null || corrections.crs != null
  const use = (crs: string | null) => onChange({ crs })
  return (
    <>
      <Labelled label="Projection">
        <Typography variant="body2" noWrap title={preview.crs ?? ''}>
          {preview.crs ?? 'not known'}
        </Typography>
      </Labelled>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mb: 0.5 }}>
        {preview.crs_reason}
        {corrections.swapped ? ' x and y are exchanged.' : ''}
      </Typography>
      {preview.glance && (
        <GlanceMap glance={preview.glance} others={others} label={`Where ${preview.title} would lie`} />
      )}
      {open && (
        <>
          <Labelled label="Another">
            <InputBase
              value={text}
              placeholder="EPSG:32626"
              onChange={(e) => setText(e.target.value)}
              onKeyDown={(e) => e.key === 'Enter' && use(text.trim() || null)}
              inputProps={{ 'aria-label': 'Another projection' }}
              sx={{ flex: 1, fontSize: 12.5, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
            />
            <Button variant="outlined" onClick={() => use(text.trim() || null)}>
              Use
            </Button>
          </Labelled>
          {!raster && (
            <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
              <Button
                size="small"
                onClick={(e) => {
                  setAnchor(e.currentTarget)
                  look.mutate()
                }}
              >
                Somewhere else?
              </Button>
              <Button size="small" onClick={() => onChange({ swapped: !corrections.swapped })}>
                Exchange x and y
              </Button>
            </Box>
          )}
        </>
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box sx={{ p: 1.5, maxWidth: 740 }}>
          <Typography variant="body2" sx={{ fontWeight: 600, mb: 1 }}>
            The same coordinates under other systems
          </Typography>
          {look.isPending && <CircularProgress size={20} aria-label="Looking" />}
          {look.error && (
            <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
              {look.error.message}
            </Typography>
          )}
          {look.data?.length === 0 && (
            <Typography variant="body2" color="text.secondary">
              None that is tried puts them on the globe where it is used. Type its code, if you know it.
            </Typography>
          )}
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            {look.data?.map((likely) => (
              <Place
                key={`${likely.crs}${likely.swapped}`}
                likely={likely}
                onTake={() => {
                  setAnchor(null)
                  onChange({ crs: likely.crs, swapped: likely.swapped })
                }}
              />
            ))}
          </Box>
        </Box>
      </Popover>
    </>
  )
}

function Place({ likely, onTake }: { likely: LikelyPlace; onTake: () => void }) {
  const others = useDatasets()
  return (
    <ButtonBase
      onClick={onTake}
      sx={{
        display: 'block',
        textAlign: 'left',
        width: 172,
        p: 0.75,
        alignSelf: 'flex-start',
        '&:hover, &:focus-visible': { bgcolor: 'tint' },
      }}
    >
      <GlanceMap glance={likely.glance} others={others} width={160} height={110} label={likely.name} />
      <Typography variant="body2" sx={{ fontWeight: 600, mt: 0.5 }}>
        {likely.name}
      </Typography>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0 }}>
        {likely.reason}
      </Typography>
    </ButtonBase>
  )
}
