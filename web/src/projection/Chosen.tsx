import { useState } from 'react'
import Box from '@mui/material/Box'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import type { Sheet } from '../api/types'
import { useFigures } from '../sheet/useFrame'
import { usePicture } from './queries'

const WIDE = 448
const HIGH = 300

/** The chosen projection, large: this map in it, or what it does to sizes and shapes all over the globe. */
export function Chosen({ document, crs }: { document: Sheet; crs: string }) {
  const [seen, setSeen] = useState<'map' | 'distortion'>('map')
  const figures = useFigures(crs)
  const picture = usePicture(document, crs, WIDE * 2, HIGH * 2)
  const globe = `/api/draw/frames/distortion?width=${WIDE * 2}&height=${HIGH * 2}&crs=${encodeURIComponent(crs)}`
  return (
    <Box sx={{ px: 2.5, minWidth: 0, overflow: 'auto' }}>
      {figures.isError ? (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {figures.error.message}
        </Typography>
      ) : (
        <>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={seen}
            onChange={(_, value: 'map' | 'distortion' | null) => value && setSeen(value)}
            aria-label="What is shown"
            sx={{ mb: 1.5, '& .MuiToggleButton-root': { color: 'text.primary' } }}
          >
            <ToggleButton value="map">This map</ToggleButton>
            <ToggleButton value="distortion">What it does to sizes</ToggleButton>
          </ToggleButtonGroup>
          <Box sx={{ width: WIDE, height: HIGH, border: 1, borderColor: 'line', bgcolor: 'raised' }}>
            {seen === 'distortion' ? (
              <img src={globe} alt="Circles of one size on the globe, as they are drawn" width={WIDE} height={HIGH} />
            ) : picture.isPending ? (
              <Empty>Drawing …</Empty>
            ) : picture.data ? (
              <img src={picture.data} alt="This map in the chosen projection" width={WIDE} height={HIGH} />
            ) : (
              <Empty>{picture.error?.message ?? 'Nothing of this map lies within this projection’s limits.'}</Empty>
            )}
          </Box>
          <Typography variant="body2" sx={{ mt: 1.5, fontWeight: 600, overflowWrap: 'anywhere' }}>
            {figures.data?.name ?? crs}
          </Typography>
          <Typography variant="body2" color="text.secondary">
            {figures.data && (figures.data.equal_area ? TRUE_AREAS : CHANGED_AREAS)}
            {seen === 'distortion' && ` ${CIRCLES}`}
          </Typography>
        </>
      )}
    </Box>
  )
}

const TRUE_AREAS = 'Every area is drawn in its true proportion: right for classed areas.'
const CHANGED_AREAS = 'Areas are not drawn in their true proportion: large ones catch more of the eye than they should.'
const CIRCLES =
  'Each circle is 800 km wide on the globe: pale where areas are true, blue where they are too small, brown where too large; those over eight times too large are left out.'

function Empty({ children }: { children: React.ReactNode }) {
  return (
    <Box sx={{ height: '100%', display: 'grid', placeItems: 'center', p: 4, textAlign: 'center' }}>
      <Typography variant="body2" color="text.secondary">
        {children}
      </Typography>
    </Box>
  )
}
