import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Dialog from '@mui/material/Dialog'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Layer, Limits, RampChoice } from '../api/types'
import { editLook } from '../sheet/looks'
import { useSheet } from '../sheet/store'
import { useCrs } from '../sheet/useFrame'
import { changeLimits } from './classing'
import { METHOD_WORDS } from './words'

type Tried = 'classes' | 'ramps'

/** Other classifications, or other ramps, as small true maps, each with its fit; one press takes it. */
export function Trials({ layer, of = 'classes' }: { layer: Layer; of?: Tried }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button variant="outlined" onClick={() => setOpen(true)} sx={{ mt: 0.5 }}>
        {of === 'ramps' ? 'Try on the map' : 'Try others'}
      </Button>
      {open && <TrialDialog layer={layer} of={of} onClose={() => setOpen(false)} />}
    </>
  )
}

function TrialDialog({ layer, of, onClose }: { layer: Layer; of: Tried; onClose: () => void }) {
  const ground = useSheet((s) => s.document?.furniture.ground) ?? 'transparent'
  const crs = useCrs()
  const { data, error } = useQuery({
    queryKey: ['trials', of, crs, layer.dataset, layer.filter, layer.others, layer.reading, layer.symbology],
    queryFn: () => answered(client.POST('/api/draw/trials', { body: { layer, of, crs } })),
    staleTime: Infinity,
    retry: false,
  })
  const many = data?.[0]?.classes
  const best = Math.max(...(data ?? []).map((trial) => (trial.classes === many ? trial.fit : 0)))
  const take = (classing: Limits, ramp: RampChoice | null) => {
    if (ramp && layer.symbology.kind === 'raster-classes')
      useSheet.getState().editLayer(layer.id, 'trial', (draft) => {
        if (draft.symbology.kind === 'raster-classes') draft.symbology.ramp = ramp
      })
    else if (ramp)
      editLook(layer.id, 'trial', (look) => {
        if (look.encodings.colour?.by === 'classes') look.encodings.colour.ramp = ramp
      })
    else changeLimits(layer.id, 'trial', (own) => void Object.assign(own, classing))
    onClose()
  }
  return (
    <Dialog open onClose={onClose} maxWidth="lg" aria-labelledby="trials">
      <DialogTitle id="trials">
        {of === 'ramps' ? 'The same classes in other colours' : 'The same numbers, classed otherwise'}
      </DialogTitle>
      <DialogContent>
        {error && (
          <Typography role="alert" sx={{ color: 'error.main' }}>
            {error.message}
          </Typography>
        )}
        {!data && !error && <Typography color="text.secondary">Drawing the maps …</Typography>}
        <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 216px)', gap: 1.5 }}>
          {data?.map(({ classing, classes, fit, colours, picture, ramp }) => {
            const words = ramp ? ramp.name : `${METHOD_WORDS[classing.method]}, ${classes} classes`
            return (
              <ButtonBase
                key={ramp?.name ?? `${classing.method} ${classing.classes}`}
                aria-label={`${words}, fit ${fit.toFixed(2)}`}
                onClick={() => take(classing, ramp ?? null)}
                sx={{
                  display: 'block',
                  textAlign: 'left',
                  border: 1,
                  borderColor: 'line',
                  p: 0.75,
                  '&:hover, &:focus-visible': { borderColor: 'primary.main' },
                }}
              >
                <img src={picture} alt="" width={200} height={130} style={{ background: ground, display: 'block' }} />
                <Box sx={{ display: 'flex', height: 6, my: 0.5 }}>
                  {colours.map((colour, i) => (
                    <Box key={i} style={{ background: colour }} sx={{ flex: 1 }} />
                  ))}
                </Box>
                <Typography variant="body2">{words}</Typography>
                {!ramp && (
                  <Typography variant="caption" color="text.secondary">
                    fit {fit.toFixed(3)}
                    {fit === best ? ` · the best of those with ${many}` : ''}
                  </Typography>
                )}
              </ButtonBase>
            )
          })}
        </Box>
      </DialogContent>
    </Dialog>
  )
}
