import { useQuery } from '@tanstack/react-query'
import { startingQuery } from '../sheet/queries'
import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import Typography from '@mui/material/Typography'
import { ColourField } from '../draw/ColourField'
import { useSheet } from '../sheet/store'
import { Grounds } from './Grounds'

const SEA = '#dfe6e8'
const LINES = '#9aa8ac'

/** What lies below all layers: a plain colour or none, the globe as the projection shows it, meridians and parallels. */
export function Ground() {
  const furniture = useSheet((s) => s.document?.furniture)
  const edit = useSheet((s) => s.edit)
  const starting = useQuery(startingQuery).data
  const set = (name: 'ground' | 'sea') => (colour: string | null) =>
    edit(name, (draft) => void (draft.furniture = { ...draft.furniture, [name]: colour }))
  const setLines = (colour: string | null) =>
    edit('graticule', (draft) => {
      const lines = draft.furniture.graticule ?? starting?.graticule
      draft.furniture.graticule = colour !== null && lines ? { ...lines, colour } : null
    })
  const lines = furniture?.graticule ? furniture.graticule.colour : null
  return (
    <Box sx={{ borderTop: 1, borderColor: 'line', py: 0.5 }}>
      <Grounds />
      <Line label="Ground" colour={furniture?.ground ?? null} first={SEA} onChange={set('ground')} />
      <Line
        label="Sea"
        title="All that the projection shows of the globe"
        colour={furniture?.sea ?? null}
        first="#d3e0e6"
        onChange={set('sea')}
      />
      <Line label="Graticule" title="Meridians and parallels" colour={lines} first={LINES} onChange={setLines} />
    </Box>
  )
}

interface LineProps {
  label: string
  title?: string
  colour: string | null
  /** The colour that it begins with. */
  first: string
  onChange: (colour: string | null) => void
}

function Line({ label, title, colour, first, onChange }: LineProps) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, px: 3, minHeight: 30 }} title={title}>
      <Checkbox
        checked={colour !== null}
        onChange={(e) => onChange(e.target.checked ? first : null)}
        slotProps={{ input: { 'aria-label': label } }}
        sx={{ ml: -1 }}
      />
      <Typography variant="body2" sx={{ flex: 1 }}>
        {label}
      </Typography>
      {colour !== null && (
        <ColourField label={`Colour of the ${label.toLowerCase()}`} value={colour} onChange={onChange} />
      )}
    </Box>
  )
}
