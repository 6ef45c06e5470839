import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import type { Category } from '../api/types'
import { Glyph } from '../Glyph'
import { ColourField } from './ColourField'
import { ShapePicker } from './ShapePicker'

interface Props {
  category: Category
  colour: string
  count: number | null
  points: boolean
  chosen: boolean
  onChoose: (chosen: boolean) => void
  onChange: (tag: string, values: Partial<Category>) => void
  onMove: (by: -1 | 1) => void
  onRemove: () => void
}

/** A name has the room of its line to itself until the line is pointed at, or a button of it focused; where nothing points, all stands side by side. */
const LINE = {
  position: 'relative',
  display: 'flex',
  alignItems: 'center',
  gap: 0.5,
  minHeight: 30,
  '@media (hover: hover)': {
    '& .acts': { position: 'absolute', right: 0, opacity: 0 },
    '&:hover .acts, & .acts:focus-within': { opacity: 1 },
    '&:has(.name:focus) .acts': { opacity: 0, pointerEvents: 'none' },
  },
} as const

/** A category: its colour and shape, its name, how many have it. */
export function CategoryLine(props: Props) {
  const { category, colour, count, points, chosen, onChoose, onChange, onMove, onRemove } = props
  const values = category.values.join(', ')
  return (
    <Box role="listitem" sx={{ ...LINE, opacity: category.drawn ? 1 : 0.5 }}>
      <input
        type="checkbox"
        aria-label={`Choose ${values}`}
        checked={chosen}
        onChange={(e) => onChoose(e.target.checked)}
      />
      <ColourField
        label={`Colour of ${values}`}
        value={colour}
        short
        onChange={(next) => onChange('colour', { colour: next })}
      />
      {points && (
        <ShapePicker
          label={`Shape of ${values}`}
          value={category.shape ?? null}
          optional
          onChange={(shape) => onChange('shape', { shape })}
        />
      )}
      <InputBase
        value={category.name}
        placeholder={values}
        title={values}
        onChange={(e) => onChange('name', { name: e.target.value })}
        inputProps={{ 'aria-label': `Name of ${values}`, className: 'name' }}
        sx={{ flex: 1, fontSize: 13, minWidth: 36 }}
      />
      <Typography variant="caption" color="text.secondary">
        {count?.toLocaleString('en') ?? ''}
      </Typography>
      <Box className="acts" sx={{ display: 'flex', gap: 0.5, bgcolor: 'background.paper' }}>
        <IconButton aria-label={`Move ${values} up`} onClick={() => onMove(-1)} sx={{ p: 0 }}>
          <Glyph name="up" />
        </IconButton>
        <IconButton aria-label={`Move ${values} down`} onClick={() => onMove(1)} sx={{ p: 0 }}>
          <Glyph name="down" />
        </IconButton>
        <IconButton
          aria-label={`${category.drawn ? 'Leave out' : 'Draw'} ${values}`}
          title={category.drawn ? 'Leave out of the map' : 'Draw'}
          onClick={() => onChange('drawn', { drawn: !category.drawn })}
          sx={{ p: 0 }}
        >
          <Glyph name={category.drawn ? 'shown' : 'hidden'} />
        </IconButton>
        <IconButton aria-label={`Give ${values} to the others`} title="To the others" onClick={onRemove} sx={{ p: 0 }}>
          <Glyph name="minus" />
        </IconButton>
      </Box>
    </Box>
  )
}
