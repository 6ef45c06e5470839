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
        sx={{
          display: 'flex',
          flexDirection: 'column',
          alignItems: 'stretch',
          px: 3,
          py: 1,
          borderTop: 1,
          borderColor: 'line',
          textAlign: 'left',
          minHeight: 32,
        }}
      >
        <Typography variant="body2">Projection</Typography>
        <Typography variant="caption" color="text.secondary" noWrap title={name}>
          {name}
        </Typography>
      </ButtonBase>
      {open && <ProjectionDialog onClose={() => setOpen(false)} />}
    </>
  )
}
