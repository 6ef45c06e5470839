import { type PointerEvent, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Popover from '@mui/material/Popover'
import Typography from '@mui/material/Typography'
import type { Dataset } from '../api/types'
import { PlainSelect } from '../bench/PlainSelect'
import { type Bounds, framed, GlanceMap, outline } from './GlanceMap'

const WIDTH = 336
const HEIGHT = 210
const TAP = 4
const ROOM = 1.15

interface Props {
  datasets: readonly Dataset[]
  place: Bounds | null
  onPlace: (place: Bounds | null) => void
  /** What the button says while no place is chosen. */
  nowhere?: string
}

/** Where datasets shall lie: a box drawn on a small map of all that there is. */
export function PlaceFilter({ datasets, place, onPlace, nowhere = 'Anywhere' }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [drawn, setDrawn] = useState<{ from: [number, number]; to: [number, number] } | null>(null)
  const boxes = datasets.flatMap(({ bounds }) => (bounds ? [bounds as Bounds] : []))
  if (boxes.length === 0) return null
  const all = boxes.reduce<Bounds>(
    (whole, [west, south, east, north]) => [
      Math.min(whole[0], west),
      Math.min(whole[1], south),
      Math.max(whole[2], east),
      Math.max(whole[3], north),
    ],
    [180, 90, -180, -90],
  )
  const view = framed(all, WIDTH, HEIGHT, ROOM)
  const at = (event: PointerEvent<SVGSVGElement>): [number, number] => {
    const { left, top } = event.currentTarget.getBoundingClientRect()
    return [event.clientX - left, event.clientY - top]
  }
  const finish = () => {
    if (drawn) {
      const [[x0, y0], [x1, y1]] = [drawn.from, drawn.to]
      // A mere press asks for what lies there.
      const pad = Math.hypot(x1 - x0, y1 - y0) < TAP ? TAP : 0
      const [left, right] = [Math.min(x0, x1) - pad, Math.max(x0, x1) + pad]
      const [top, bottom] = [Math.min(y0, y1) - pad, Math.max(y0, y1) + pad]
      onPlace([view.lon(left), view.lat(bottom), view.lon(right), view.lat(top)])
    }
    setDrawn(null)
  }
  const shown = drawn
    ? ([
        Math.min(drawn.from[0], drawn.to[0]),
        Math.min(drawn.from[1], drawn.to[1]),
        Math.abs(drawn.to[0] - drawn.from[0]),
        Math.abs(drawn.to[1] - drawn.from[1]),
      ] as const)
    : place
      ? ([
          view.x(place[0]),
          view.y(place[3]),
          view.x(place[2]) - view.x(place[0]),
          view.y(place[1]) - view.y(place[3]),
        ] as const)
      : null
  return (
    <>
      <Button aria-haspopup="dialog" onClick={(e) => setAnchor(e.currentTarget)}>
        {place ? 'In a place' : nowhere}
      </Button>
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { 'aria-label': 'Where datasets lie', role: 'dialog' } }}
      >
        <Box sx={{ p: 2, width: WIDTH + 16 }}>
          <Box sx={{ position: 'relative', width: WIDTH, height: HEIGHT }}>
            <GlanceMap
              label="Where the datasets of the library lie"
              glance={{ bounds: all, points: [], lines: boxes.map(outline) }}
              width={WIDTH}
              height={HEIGHT}
              room={ROOM}
            />
            <svg
              width={WIDTH}
              height={HEIGHT}
              aria-hidden
              style={{ position: 'absolute', inset: 0, cursor: 'crosshair', touchAction: 'none' }}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId)
                setDrawn({ from: at(e), to: at(e) })
              }}
              onPointerMove={(e) => {
                const to = at(e)
                setDrawn((was) => was && { ...was, to })
              }}
              onPointerUp={finish}
            >
              {shown && (
                <rect
                  x={shown[0]}
                  y={shown[1]}
                  width={shown[2]}
                  height={shown[3]}
                  fill="currentColor"
                  fillOpacity={0.12}
                  stroke="currentColor"
                />
              )}
            </svg>
          </Box>
          <Typography variant="caption" color="text.secondary" sx={{ display: 'block', mt: 1 }}>
            Draw a box, or press a place. Or take the place of
          </Typography>
          <PlainSelect
            label="Where another dataset lies"
            value=""
            options={[
              ['', 'another dataset …'] as const,
              ...datasets.flatMap(({ id, title, bounds }) => (bounds ? [[id, title] as const] : [])),
            ]}
            onChange={(id) => {
              const like = datasets.find((each) => each.id === id)
              if (like?.bounds) onPlace(like.bounds as Bounds)
            }}
            sx={{ width: '100%' }}
          />
          <Button disabled={!place} onClick={() => onPlace(null)} sx={{ mt: 1 }}>
            {nowhere === 'Anywhere' ? nowhere : 'Another one'}
          </Button>
        </Box>
      </Popover>
    </>
  )
}
