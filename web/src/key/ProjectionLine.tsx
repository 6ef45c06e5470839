import { useState } from 'react'
import ButtonBase from '@mui/material/ButtonBase'
import Typography from '@mui/material/Typography'
import { ProjectionDialog } from '../projection/ProjectionDialog'
import { useSheet } from '../sheet/store'
import { useCrs, useFigures } from '../sheet/useFrame'

/** In which projection the map lies; pressed, it can be changed. */
export function ProjectionLine() {
  const [open, setOpen] = useState(false)
  const crs = useCrs()
  const { data } = useFigures(crs)
  const there = useSheet((s) => s.document !== null)
  const name = data?.name ?? crs
  return (
    <>
      <ButtonBase
        onClick={() => setOpen(true)}
        disabled={!there}
        aria-label={`Projection: ${name}. Change it`}
        sx={{
          display: 'flex',
          gap: 2,
          px: 3,
          py: 1.5,
          borderTop: 1,
          borderColor: 'line',
          textAlign: 'left',
          minHeight: 32,
        }}
      >
        <Typography variant="body2">Projection</Typography>
        <Typography variant="body2" color="text.secondary" noWrap sx={{ flex: 1, textAlign: 'right' }} title={name}>
          {name.replace(/^EPSG:\d+ · (WGS 84 \/ )?/, '')}
        </Typography>
      </ButtonBase>
      {open && <ProjectionDialog onClose={() => setOpen(false)} />}
    </>
  )
}
