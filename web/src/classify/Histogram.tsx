import { type PointerEvent, useEffect, useRef, useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { useTheme } from '@mui/material/styles'
import type { Distribution, InkHeader, Layer } from '../api/types'
import { addBreak, breaksOf, classMarks, seenColour, moveBreak, roundFor, setBreaks } from './classing'

const PAD = { left: 14, right: 14, top: 22, bottom: 20 }

/** Px from the top at which the handles of breaks stand, below what the axis says of itself. */
const HANDLES = 4

/** Where a key takes a break: arrows by a step, with Shift or as Page keys by ten, Home and End as far as it goes. */
function keyed(key: string, shift: boolean, value: number, step: number, low: number, high: number): number | null {
  const steps: Record<string, number> = {
    ArrowLeft: -1,
    ArrowDown: -1,
    ArrowRight: 1,
    ArrowUp: 1,
    PageDown: -10,
    PageUp: 10,
  }
  if (key === 'Home') return low
  if (key === 'End') return high
  const by = steps[key]
  return by === undefined ? null : value + by * step * (shift && Math.abs(by) === 1 ? 10 : 1)
}

/** The distribution with its breaks: drag a break, double-click to add one, Delete to take one out, arrows to nudge. */
export function Histogram({
  layer,
  header,
  distribution,
}: {
  layer: Layer
  header: InkHeader
  distribution: Distribution
}) {
  const host = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState({ width: 400, height: 150 })
  const [linear, setLinear] = useState(false)
  const [live, setLive] = useState<number[] | null>(null)
  const theme = useTheme()
  const queries = useQueryClient()
  useEffect(() => {
    if (!host.current) return
    const observer = new ResizeObserver(
      ([entry]) => entry && setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    )
    observer.observe(host.current)
    return () => observer.disconnect()
  }, [])

  const marks = classMarks(header)
  const low = distribution.minimum ?? 0
  const breaks = live ?? breaksOf(header)
  const high = Math.max(distribution.maximum ?? 1, breaks.at(-1) ?? 1)
  const inner = Math.max(1, size.width - PAD.left - PAD.right)
  const floor = size.height - PAD.bottom
  const x = (value: number) => PAD.left + (high > low ? ((value - low) / (high - low)) * inner : inner / 2)
  const valueAt = (px: number) => low + ((px - PAD.left) / inner) * (high - low)
  // By square root a few crowded bins do not flatten the rest to nothing.
  const scaled = linear ? (count: number) => count : Math.sqrt
  const tallest = scaled(Math.max(1, ...distribution.counts))
  const y = (count: number) => floor - (scaled(count) / tallest) * Math.max(1, floor - PAD.top)
  const total = distribution.counts.reduce((sum, count) => sum + count, 0)
  let below = 0
  const cumulative = distribution.counts.map((count, i) => {
    below += count
    return `${x(distribution.edges[i + 1] ?? 0)},${floor - (below / Math.max(1, total)) * (floor - PAD.top)}`
  })
  const colourAt = (value: number) => {
    const at = breaks.findIndex((limit) => value <= limit)
    return seenColour(marks[at < 0 ? breaks.length - 1 : at], header.kind) ?? theme.palette.text.secondary
  }

  function grab(event: PointerEvent<SVGElement>, i: number) {
    event.preventDefault()
    ;(event.currentTarget as unknown as HTMLElement).focus()
    const left = host.current?.getBoundingClientRect().left ?? 0
    let current = breaksOf(header)
    let waiting = 0
    const send = () => {
      waiting = 0
      setBreaks(layer.id, current, `drag-${i}`)
    }
    // A step more would take back the question about the last one: the map would stand still until the hand does.
    const sendWhenAnswered = () => {
      if (queries.isFetching({ queryKey: ['ink'] }) > 0) waiting = requestAnimationFrame(sendWhenAnswered)
      else send()
    }
    const move = (e: globalThis.PointerEvent) => {
      current = moveBreak(current, i, valueAt(e.clientX - left), low)
      setLive(current)
      // The map follows while dragging, as often as it can be drawn.
      if (!waiting) waiting = requestAnimationFrame(sendWhenAnswered)
    }
    const end = () => {
      cancelAnimationFrame(waiting)
      send()
      setLive(null)
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', end)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', end)
  }

  const step = (high - low) / 200
  return (
    <>
      <ButtonBase
        aria-pressed={linear}
        title={linear ? 'Show small numbers larger' : 'Show heights in proportion'}
        onClick={() => setLinear(!linear)}
        sx={{ alignSelf: 'flex-start', minHeight: 24, px: 1.5, fontSize: 11, color: 'text.secondary' }}
      >
        number of values, on a {linear ? 'linear' : 'root'} scale: up to{' '}
        {Math.max(0, ...distribution.counts).toLocaleString('en')} · dashed: share of all up to there
      </ButtonBase>
      <Box ref={host} sx={{ flex: 1, minHeight: 90, position: 'relative', overflow: 'hidden' }}>
        <svg
          width={size.width}
          height={size.height}
          data-testid="histogram"
          role="group"
          aria-label="Distribution with class breaks"
          style={{ position: 'absolute', inset: 0, userSelect: 'none' }}
          onDoubleClick={(e) => {
            const value = roundFor(valueAt(e.clientX - e.currentTarget.getBoundingClientRect().left), (high - low) / 20)
            if (value > low && value < high) setBreaks(layer.id, addBreak(breaksOf(header), value))
          }}
        >
          {distribution.counts.map((count, i) => {
            const from = distribution.edges[i] ?? 0
            const to = distribution.edges[i + 1] ?? 0
            return count > 0 ? (
              <rect
                key={i}
                x={x(from)}
                width={Math.max(1, x(to) - x(from) - 0.5)}
                y={y(count)}
                height={floor - y(count)}
                fill={colourAt((from + to) / 2)}
                stroke={theme.palette.text.secondary}
                strokeOpacity={0.35}
                strokeWidth={0.5}
              >
                <title>{`${count} between ${from.toPrecision(5)} and ${to.toPrecision(5)}`}</title>
              </rect>
            ) : null
          })}
          <polyline
            points={[`${x(distribution.edges[0] ?? 0)},${floor}`, ...cumulative].join(' ')}
            fill="none"
            stroke={theme.palette.text.secondary}
            strokeWidth={1}
            strokeDasharray="3 2"
            pointerEvents="none"
            data-testid="cumulative"
          />
          <line
            x1={PAD.left}
            x2={size.width - PAD.right}
            y1={floor + 0.5}
            y2={floor + 0.5}
            stroke={theme.palette.line}
          />
          {breaks.slice(0, -1).map((value, i) => (
            <g
              key={i}
              role="slider"
              tabIndex={0}
              aria-label={`Upper limit of class ${i + 1} of ${breaks.length}`}
              aria-valuenow={value}
              aria-valuetext={`${Number(value.toPrecision(6)).toLocaleString('en')}, ${header.classes[i]?.count ?? 0} values below it in its class`}
              aria-valuemin={low}
              aria-valuemax={high}
              data-testid={`break-${i}`}
              transform={`translate(${x(value)},${HANDLES})`}
              style={{ cursor: 'ew-resize', touchAction: 'none' }}
              onPointerDown={(e) => grab(e, i)}
              onDoubleClick={(e) => e.stopPropagation()}
              onKeyDown={(e) => {
                if (e.key === 'Delete' || e.key === 'Backspace')
                  setBreaks(
                    layer.id,
                    breaks.filter((_, j) => j !== i),
                  )
                const to = keyed(e.key, e.shiftKey, value, step, low, high)
                if (to === null) return
                e.preventDefault()
                setBreaks(layer.id, moveBreak(breaks, i, to, low), `drag-${i}`)
              }}
            >
              <rect x={-12} y={-2} width={24} height={size.height - HANDLES} fill="transparent" />
              <line y1={4} y2={floor + 3 - HANDLES} stroke={theme.palette.text.primary} strokeWidth={1.25} />
              <path
                d={`M-4.5 2 h9 v4 l-4.5 5 l-4.5 -5z`}
                fill={theme.palette.primary.main}
                stroke={theme.palette.background.paper}
              />
              <text
                y={size.height - 5 - HANDLES}
                textAnchor="middle"
                fontSize={11}
                fill={theme.palette.text.primary}
                style={{ fontFamily: '"Source Code Pro", monospace' }}
              >
                {i % Math.ceil(breaks.length / 9) === 0 ? Number(value.toPrecision(4)).toLocaleString('en') : ''}
              </text>
            </g>
          ))}
        </svg>
      </Box>
    </>
  )
}
