import { type PointerEvent, useRef, useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { useTheme } from '@mui/material/styles'
import type { Distribution, InkHeader, Layer } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { lightNothing, lightRange } from '../sheet/lit'
import { apart, axisOf, keyed } from './axis'
import { follow } from './follow'
import { useSize } from './useSize'
import { ALL, type Part } from './part'
import { addBreak, breaksOf, classMarks, moveBreak, seenColour, setBreaks, stepAt, taken } from './classing'

const PAD = { left: 14, right: 14, top: 22, bottom: 20 }

/** Px from the top at which the handles of breaks stand, below what the axis says of itself. */
const HANDLES = 4

/** Px that a figure of the numbers of breaks is wide. */
const FIGURE = 6.6

/** Px that a hand moves at least to choose a part. */
const DRAWN = 6

interface Props {
  layer: Layer
  header: InkHeader
  distribution: Distribution
  part?: Part
  onPart?: (part: Part) => void
}

/** The distribution with its breaks: drag a break, double-click to add one, Delete to take one out, arrows to nudge; drag over the bars to see a
 * part of them larger. */
export function Histogram({ layer, header, distribution, part = ALL, onPart }: Props) {
  const host = useRef<HTMLDivElement>(null)
  const size = useSize(host, { width: 400, height: 150 })
  const [linear, setLinear] = useState(false)
  const [live, setLive] = useState<number[] | null>(null)
  const theme = useTheme()
  const queries = useQueryClient()

  const marks = classMarks(header)
  const least = distribution.minimum ?? 0
  const breaks = live ?? breaksOf(header)
  const greatest = Math.max(distribution.maximum ?? 1, breaks.at(-1) ?? 1)
  const low = part.low ?? (part.logarithmic ? (distribution.edges[0] ?? 1) : least)
  const high = part.high ?? greatest
  const inner = Math.max(1, size.width - PAD.left - PAD.right)
  const floor = size.height - PAD.bottom
  const { x, valueAt } = axisOf(low, high, PAD.left, inner, part.logarithmic)
  const [drawn, setDrawn] = useState<[number, number] | null>(null)
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

  const moveTo = (from: number[], i: number, value: number) =>
    moveBreak(from, i, value, least, stepAt(distribution, value))

  function grab(event: PointerEvent<SVGElement>, i: number) {
    event.preventDefault()
    event.stopPropagation()
    ;(event.currentTarget as unknown as HTMLElement).focus()
    const left = host.current?.getBoundingClientRect().left ?? 0
    let current = breaksOf(header)
    follow(
      queries,
      (e) => {
        current = moveTo(current, i, valueAt(e.clientX - left))
        setLive(current)
      },
      () => setBreaks(layer.id, current, `drag-${i}`),
      () => setLive(null),
    )
  }

  /** Drag over the bars: what lies between is shown larger. */
  function choosePart(event: PointerEvent<SVGElement>) {
    const left = host.current?.getBoundingClientRect().left ?? 0
    const from = event.clientX - left
    const between = (to: number): [number, number] => [Math.min(from, to), Math.max(from, to)]
    const move = (e: globalThis.PointerEvent) => setDrawn(between(e.clientX - left))
    const end = (e: globalThis.PointerEvent) => {
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', end)
      setDrawn(null)
      const [a, b] = between(e.clientX - left)
      if (b - a < DRAWN) return
      onPart?.({ ...part, low: taken(distribution, valueAt(a)), high: taken(distribution, valueAt(b)) })
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', end)
  }

  // Numbers that would run into one another are left to the list beside.
  const said = breaks.map((value) => value.toLocaleString('en', { maximumSignificantDigits: 4 }))
  const named = apart(
    breaks.slice(0, -1).map((value, i) => ({ at: x(value), wide: FIGURE * ((said[i]?.length ?? 0) + 1) })),
  )
  const step = (high - low) / 200
  const small = { minHeight: 24, fontSize: 11, color: 'text.secondary' } as const
  return (
    <>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', columnGap: 1.5, px: 1.5 }}>
        <ButtonBase
          aria-pressed={linear}
          title={linear ? 'Show small numbers larger' : 'Show heights in proportion'}
          onClick={() => setLinear(!linear)}
          sx={small}
        >
          number of values, on a {linear ? 'linear' : 'root'} scale: up to{' '}
          {Math.max(0, ...distribution.counts).toLocaleString('en')} · dashed: share of all up to there
        </ButtonBase>
        {onPart && (
          <>
            {greatest > 0 && (
              <ButtonBase
                aria-pressed={part.logarithmic}
                title={part.logarithmic ? 'Let values stand in proportion' : 'Let values stand by their logarithms'}
                onClick={() => onPart({ ...ALL, logarithmic: !part.logarithmic })}
                sx={small}
              >
                axis: {part.logarithmic ? 'logarithmic' : 'linear'}
              </ButtonBase>
            )}
            <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, fontSize: 11, color: 'text.secondary' }}>
              from
              <EditableNumber
                label="Axis from"
                value={low}
                width={66}
                onChange={(from) => from < high && !(part.logarithmic && from <= 0) && onPart({ ...part, low: from })}
              />
              to
              <EditableNumber
                label="Axis to"
                value={high}
                width={66}
                onChange={(to) => to > low && onPart({ ...part, high: to })}
              />
            </Box>
            {(part.low !== null || part.high !== null) && (
              <ButtonBase
                onClick={() => onPart({ ...part, low: null, high: null })}
                sx={{ ...small, color: 'primary.main' }}
              >
                the whole range
              </ButtonBase>
            )}
          </>
        )}
      </Box>
      <Box ref={host} sx={{ flex: 1, minHeight: 90, position: 'relative', overflow: 'hidden' }}>
        <svg
          width={size.width}
          height={size.height}
          data-testid="histogram"
          role="group"
          aria-label="Distribution with class breaks"
          style={{ position: 'absolute', inset: 0, userSelect: 'none' }}
          onPointerDown={onPart && choosePart}
          onPointerLeave={lightNothing}
          onDoubleClick={(e) => {
            const value = taken(distribution, valueAt(e.clientX - e.currentTarget.getBoundingClientRect().left))
            if (value > least && value < greatest) setBreaks(layer.id, addBreak(breaksOf(header), value))
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
                onPointerEnter={() => lightRange(layer, from, to, true)}
                onPointerLeave={lightNothing}
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
          {drawn && (
            <rect
              x={drawn[0]}
              width={drawn[1] - drawn[0]}
              y={PAD.top}
              height={Math.max(0, floor - PAD.top)}
              fill={theme.palette.primary.main}
              fillOpacity={0.15}
              pointerEvents="none"
            />
          )}
          {breaks.slice(0, -1).map((value, i) => (
            <g
              key={i}
              role="slider"
              tabIndex={0}
              aria-label={`Upper limit of class ${i + 1} of ${breaks.length}`}
              aria-valuenow={value}
              aria-valuetext={`${value.toLocaleString('en', { maximumSignificantDigits: 6 })}, ${header.classes[i]?.count ?? 0} values below it in its class`}
              aria-valuemin={least}
              aria-valuemax={greatest}
              data-testid={`break-${i}`}
              transform={`translate(${x(value)},${HANDLES})`}
              visibility={x(value) < PAD.left - 1 || x(value) > size.width - PAD.right + 1 ? 'hidden' : 'visible'}
              style={{ cursor: 'ew-resize', touchAction: 'none' }}
              onPointerDown={(e) => grab(e, i)}
              onDoubleClick={(e) => e.stopPropagation()}
              onKeyDown={(e) => {
                if (e.key === 'Delete' || e.key === 'Backspace')
                  setBreaks(
                    layer.id,
                    breaks.filter((_, j) => j !== i),
                  )
                const to = keyed(e.key, e.shiftKey, value, step, least, greatest)
                if (to === null) return
                e.preventDefault()
                setBreaks(layer.id, moveTo(breaks, i, to), `drag-${i}`)
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
                {named.has(i) ? said[i] : ''}
              </text>
            </g>
          ))}
        </svg>
      </Box>
    </>
  )
}
