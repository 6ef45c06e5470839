import { useState } from 'react'
import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Slider from '@mui/material/Slider'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Oklch } from '../api/types'

const AXES = [
  { axis: 'lightness', label: 'Lightness', most: 1, decimals: 2 },
  { axis: 'chroma', label: 'Chroma', most: 0.32, decimals: 3 },
  { axis: 'hue', label: 'Hue', most: 360, decimals: 0 },
] as const
type Axis = (typeof AXES)[number]['axis']
type Place = Pick<Oklch, Axis>

interface Props {
  /** What is being coloured: 'Stop 2'. */
  label: string
  colour: string
  onChange: (colour: string) => void
}

/** A colour by its lightness, chroma and hue, each over what it would make of it. */
export function OklchSliders({ label, colour, onChange }: Props) {
  // A screen lacks many a colour of full chroma. While one coordinate is dragged the others stay what they were meant to be.
  const [held, hold] = useState<{ place: Place; colour: string } | null>(null)
  const place = held?.colour === colour ? held.place : null
  const { data } = useQuery({
    queryKey: ['oklch', place ?? colour],
    queryFn: () =>
      answered(
        place
          ? client.GET('/api/draw/oklch/at', { params: { query: place } })
          : client.GET('/api/draw/oklch', { params: { query: { colour } } }),
      ),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
  if (!data) return null
  return (
    <Box role="group" aria-label={`${label} by lightness, chroma and hue`}>
      {AXES.map(({ axis, label: name, most, decimals }) => {
        const strip = data.strips[axis] ?? []
        const last = Math.max(1, strip.length - 1)
        return (
          <Box key={axis} sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 26 }}>
            <Typography variant="body2" sx={{ width: 66 }}>
              {name}
            </Typography>
            <Slider
              value={Math.round((data[axis] / most) * last)}
              min={0}
              max={last}
              track={false}
              aria-label={`${name} of ${label}`}
              getAriaValueText={(at) => ((at / last) * most).toFixed(decimals)}
              onChange={(_, to) => {
                const at = to as number
                const next = strip[at]
                if (!next) return
                const { lightness, chroma, hue } = data
                hold({ place: { lightness, chroma, hue, [axis]: (at / last) * most }, colour: next })
                onChange(next)
              }}
              sx={{
                flex: 1,
                mx: 1,
                '& .MuiSlider-rail': {
                  height: 10,
                  opacity: 1,
                  background: `linear-gradient(to right, ${strip.join(',')})`,
                },
              }}
            />
            <Typography className="mono" variant="body2" sx={{ width: 44, textAlign: 'right' }}>
              {data[axis].toFixed(decimals)}
            </Typography>
          </Box>
        )
      })}
    </Box>
  )
}
