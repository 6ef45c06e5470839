import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import Typography from '@mui/material/Typography'
import { useSheet } from '../sheet/store'
import { ColourField } from '../draw/ColourField'

const SEA = '#dfe6e8'

/** The ground below all layers: a plain colour, or none. */
export function Ground() {
  const ground = useSheet((s) => s.document?.furniture?.ground)
  const edit = useSheet((s) => s.edit)
  const set = (colour: string | null) =>
    edit('ground', (draft) => void (draft.furniture = { ...draft.furniture, ground: colour }))
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, px: 3, py: 1.5, borderTop: 1, borderColor: 'line' }}>
      <Checkbox
        checked={ground != null}
        onChange={(e) => set(e.target.checked ? SEA : null)}
        slotProps={{ input: { 'aria-label': 'Ground' } }}
        sx={{ ml: -1 }}
      />
      <Typography variant="body2" sx={{ flex: 1 }}>
        Ground
      </Typography>
      {ground != null && <ColourField label="Colour of the ground" value={ground} onChange={set} />}
    </Box>
  )
}
