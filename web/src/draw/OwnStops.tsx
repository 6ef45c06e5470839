import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import { answered, client } from '../api/client'
import type { RampChoice } from '../api/types'
import { Glyph } from '../Glyph'
import { ColourField } from './ColourField'

const MOST = 9
const FIRST = '#7c4f74'

interface Props {
  value: RampChoice
  /** The colours of now, from which stops by hand begin. */
  shown: string[]
  onChange: (ramp: RampChoice) => void
}

/** A ramp by hand: its stops from low to high, or one colour made into a ramp. */
export function OwnStops({ value, shown, onChange }: Props) {
  const { stops } = value
  const set = (next: string[]) => onChange({ ...value, stops: next, replaced: {} })
  const fromOne = async (colour: string) =>
    set(await answered(client.GET('/api/draw/ramps/of', { params: { query: { colour } } })))
  if (stops.length === 0)
    return (
      <Button
        onClick={() => {
          const [low, middle, high] = [shown[0], shown[Math.floor(shown.length / 2)], shown.at(-1)]
          if (low && middle && high) set([low, middle, high])
          else void fromOne(FIRST)
        }}
      >
        By hand
      </Button>
    )
  return (
    <Box
      role="group"
      aria-label="Stops of the ramp"
      sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 0.5 }}
    >
      {stops.map((stop, i) => (
        <ColourField
          key={i}
          short
          label={`Stop ${i + 1}`}
          value={stop}
          onChange={(colour) => set(stops.map((each, at) => (at === i ? colour : each)))}
        />
      ))}
      <IconButton
        aria-label="Another stop"
        disabled={stops.length >= MOST}
        onClick={() => set([...stops, stops.at(-1) ?? FIRST])}
      >
        <Glyph name="plus" />
      </IconButton>
      <IconButton aria-label="A stop less" disabled={stops.length <= 2} onClick={() => set(stops.slice(0, -1))}>
        <Glyph name="minus" />
      </IconButton>
      <Button
        size="small"
        title="From light to dark through the middle stop"
        onClick={() => void fromOne(stops[Math.floor(stops.length / 2)] ?? FIRST)}
      >
        From one colour
      </Button>
    </Box>
  )
}
