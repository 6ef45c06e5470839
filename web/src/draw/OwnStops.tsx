import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import ToggleButton from '@mui/material/ToggleButton'
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { RampChoice } from '../api/types'
import { Glyph } from '../Glyph'
import { startingQuery } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { ColourField } from './ColourField'
import { OklchSliders } from './OklchSliders'
import { useKeepRamp } from './ownRamps'

interface Props {
  value: RampChoice
  /** The colours of now, from which stops by hand begin. */
  shown: string[]
  onChange: (ramp: RampChoice) => void
}

/** A ramp by hand: its stops from low to high, or one colour made into a ramp. */
export function OwnStops({ value, shown, onChange }: Props) {
  const { stops } = value
  const [chosen, choose] = useState(0)
  const [name, setName] = useState('')
  const keep = useKeepRamp()
  const { data: starting } = useQuery(startingQuery)
  const set = (next: string[]) => onChange({ ...value, stops: next, replaced: {} })
  const fromOne = async (colour: string) =>
    set(await answered(client.GET('/api/draw/ramps/of', { params: { query: { colour } } })))
  const ground = useSheet((s) => s.document?.furniture.ground) ?? '#ffffff'
  const matched = async () =>
    set(await answered(client.GET('/api/draw/ramps/matched', { params: { query: { ground, stops } } })))
  const refined = async () =>
    set(await answered(client.GET('/api/draw/ramps/refined', { params: { query: { stops } } })))
  if (!starting) return null
  const { gestures } = starting
  if (stops.length === 0)
    return (
      <Button
        onClick={() => {
          const [low, middle, high] = [shown[0], shown[Math.floor(shown.length / 2)], shown.at(-1)]
          if (low && middle && high) set([low, middle, high])
          else void fromOne(gestures.stop)
        }}
      >
        By hand
      </Button>
    )
  const edited = Math.min(chosen, stops.length - 1)
  const setOne = (at: number, colour: string) => set(stops.map((each, i) => (i === at ? colour : each)))
  return (
    <Box>
      <Box
        role="group"
        aria-label="Stops of the ramp"
        sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 0.5 }}
      >
        {stops.map((stop, i) => (
          <ColourField key={i} short label={`Stop ${i + 1}`} value={stop} onChange={(colour) => setOne(i, colour)} />
        ))}
        <IconButton
          aria-label="Another stop"
          disabled={stops.length >= limits.RampChoice.stops.most}
          title="Half-way between the two that are farthest apart"
          onClick={() => void refined()}
        >
          <Glyph name="plus" />
        </IconButton>
        <IconButton
          aria-label="A stop less"
          title={`Take out stop ${edited + 1}, the one that is mixed`}
          disabled={stops.length <= 2}
          onClick={() => set(stops.toSpliced(edited, 1))}
        >
          <Glyph name="minus" />
        </IconButton>
        <Button
          size="small"
          title="From light to dark through the middle stop"
          onClick={() => void fromOne(stops[Math.floor(stops.length / 2)] ?? gestures.stop)}
        >
          From one colour
        </Button>
        <Button
          size="small"
          title="The low end nearly as light as what the map lies on, the high end far from it"
          onClick={() => void matched()}
        >
          Match the ground
        </Button>
      </Box>
      <Box
        component="form"
        sx={{ display: 'flex', alignItems: 'center', gap: 1 }}
        onSubmit={(e) => {
          e.preventDefault()
          if (name.trim()) keep.mutate({ name: name.trim(), stops }, { onSuccess: () => setName('') })
        }}
      >
        <InputBase
          value={name}
          onChange={(e) => setName(e.target.value)}
          placeholder="Name to keep it by"
          inputProps={{ 'aria-label': 'Name of the ramp', maxLength: limits.RampIn.name.most }}
          sx={{ fontSize: 13, border: 1, borderColor: 'line', px: 0.75, flex: 1, maxWidth: 150 }}
        />
        <Button type="submit" size="small" disabled={!name.trim() || keep.isPending}>
          Keep
        </Button>
      </Box>
      {keep.error && (
        <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
          {keep.error.message}
        </Typography>
      )}
      <ToggleButtonGroup
        exclusive
        size="small"
        value={edited}
        onChange={(_, next: number | null) => next !== null && choose(next)}
        aria-label="Stop to be mixed"
        sx={{ mt: 0.5 }}
      >
        {stops.map((_, i) => (
          <ToggleButton
            key={i}
            value={i}
            aria-label={`Mix stop ${i + 1}`}
            sx={{ px: 1, py: 0, minHeight: 24, minWidth: 28 }}
          >
            {i + 1}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <OklchSliders
        label={`stop ${edited + 1}`}
        colour={stops[edited] ?? gestures.stop}
        onChange={(colour) => setOne(edited, colour)}
      />
    </Box>
  )
}
