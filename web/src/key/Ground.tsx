import type { ReactNode } from 'react'
import { useQuery } from '@tanstack/react-query'
import { startingQuery } from '../sheet/queries'
import Box from '@mui/material/Box'
import Checkbox from '@mui/material/Checkbox'
import Typography from '@mui/material/Typography'
import { ColourField } from '../draw/ColourField'
import { useSheet } from '../sheet/store'
import { Grounds } from './Grounds'

/** What lies below all layers, a plain colour or none, the globe as the projection shows it, meridians and parallels; and what stands over them. */
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
  const stand = (name: 'scale_bar' | 'north_arrow') => (shown: boolean) =>
    edit(name, (draft) => void (draft.furniture = { ...draft.furniture, [name]: shown }))
  const lines = furniture?.graticule ? furniture.graticule.colour : null
  return (
    <Box sx={{ borderTop: 1, borderColor: 'line', py: 0.5 }}>
      <Grounds />
      <Coloured
        label="Ground"
        colour={furniture?.ground ?? null}
        first={starting?.sheet.furniture.ground}
        onChange={set('ground')}
      />
      <Coloured
        label="Sea"
        title="All that the projection shows of the globe"
        colour={furniture?.sea ?? null}
        first={starting?.sea}
        onChange={set('sea')}
      />
      <Coloured
        label="Graticule"
        title="Meridians and parallels"
        colour={lines}
        first={starting?.graticule.colour}
        onChange={setLines}
      />
      <Box sx={{ display: 'flex', '& > *': { flex: 1 } }}>
        <Line
          label="Scale bar"
          title="True in the middle of what is seen"
          shown={furniture?.scale_bar !== false}
          onShow={stand('scale_bar')}
        />
        <Line
          label="North arrow"
          title="To true north from the middle of what is seen"
          shown={furniture?.north_arrow ?? false}
          onShow={stand('north_arrow')}
        />
      </Box>
    </Box>
  )
}

interface LineProps {
  label: string
  title?: string
  shown: boolean
  onShow: (shown: boolean) => void
  children?: ReactNode
}

function Line({ label, title, shown, onShow, children }: LineProps) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, px: 3, minHeight: 30 }} title={title}>
      <Checkbox
        checked={shown}
        onChange={(e) => onShow(e.target.checked)}
        slotProps={{ input: { 'aria-label': label } }}
        sx={{ ml: -1 }}
      />
      <Typography variant="body2" sx={{ flex: 1 }}>
        {label}
      </Typography>
      {children}
    </Box>
  )
}

interface ColouredProps {
  label: string
  title?: string
  colour: string | null
  /** The colour that it begins with. */
  first: string | null | undefined
  onChange: (colour: string | null) => void
}

function Coloured({ label, colour, first, onChange, ...rest }: ColouredProps) {
  return (
    <Line label={label} shown={colour !== null} onShow={(shown) => onChange(shown ? (first ?? null) : null)} {...rest}>
      {colour !== null && (
        <ColourField label={`Colour of the ${label.toLowerCase()}`} value={colour} onChange={onChange} />
      )}
    </Line>
  )
}
