import { type PointerEvent, useRef, useState } from 'react'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { answered, client } from '../api/client'
import type { Encodings, Layer, Scatter } from '../api/types'
import { editLook } from '../sheet/looks'
import { rowsOf } from '../sheet/read'
import { axisOf, crowded, keyed } from './axis'
import { moveBreak } from './classing'
import { follow } from './follow'
import { useSize } from './useSize'

type TwoWay = Extract<NonNullable<Encodings['colour']>, { by: 'two-way' }>
type Side = 'first' | 'second'

const PAD = { left: 58, right: 18, top: 12, bottom: 34 }

/** Change some of the two classifications that colour a layer. */
export function editTwoWay(layerId: string, tag: string, values: Partial<TwoWay>) {
  editLook(layerId, `colour-${tag}`, (draft) => {
    if (draft.encodings.colour) Object.assign(draft.encodings.colour, values)
  })
}

/** Each feature as a dot where its two numbers meet, in the colour that it has on the map; the limits of both classifications are dragged, or
 * moved by keys. */
export function PairsPicture({ layer, encoding }: { layer: Layer; encoding: TwoWay }) {
  const body = { ...rowsOf(layer), encoding }
  const { data, error } = useQuery({
    queryKey: ['distribution', 'pairs', body],
    queryFn: () => answered(client.POST('/api/draw/scatter', { body })),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const problem = { p: 3, gridColumn: 'span 2' }
  if (error)
    return (
      <Typography role="alert" variant="body2" sx={{ ...problem, color: 'error.main' }}>
        {error.message}
      </Typography>
    )
  if (!data) return <Box sx={problem} />
  return <Pairs layer={layer} encoding={encoding} pairs={data} />
}

function Pairs({ layer, encoding, pairs }: { layer: Layer; encoding: TwoWay; pairs: Scatter }) {
  const host = useRef<HTMLDivElement>(null)
  const size = useSize(host, { width: 400, height: 200 })
  const [live, setLive] = useState<{ side: Side; limits: number[] } | null>(null)
  const [asked, setAsked] = useState<Partial<Record<Side, boolean>>>({})
  const theme = useTheme()
  const queries = useQueryClient()

  const ends = (limits: number[], values: number[]) =>
    [limits[0] ?? 0, Math.max(limits.at(-1) ?? 1, ...values)] as const
  const wide = Math.max(1, size.width - PAD.left - PAD.right)
  const high = Math.max(1, size.height - PAD.top - PAD.bottom)
  // Where limits would lie on one another, as those of how many people live in places, they stand by their logarithms, unless somebody says otherwise.
  const logarithmic = (side: Side) => asked[side] ?? crowded(pairs[side])
  const axis = (side: Side, from: number, length: number) => {
    const values = side === 'first' ? pairs.x : pairs.y
    const [lowest, greatest] = ends(pairs[side], values)
    const positive = logarithmic(side) ? values.filter((value) => value > 0) : []
    // Where nothing is above zero, nothing has a logarithm.
    return axisOf(positive.length ? Math.min(...positive) : lowest, greatest, from, length, positive.length > 0)
  }
  const across = axis('first', PAD.left, wide)
  const up = axis('second', 0, high)
  const acrossPx = (value: number) => Math.max(PAD.left, across.x(value))
  const upPx = (value: number) => PAD.top + high - Math.max(0, up.x(value))
  const limitsOf = (side: Side) => (live?.side === side ? live.limits : pairs[side].slice(1))

  const moveTo = (side: Side, limits: number[], i: number, value: number) =>
    moveBreak(limits, i, value, pairs[side][0] ?? 0, pairs[`${side}_steps`][i] ?? 0)
  const set = (side: Side, i: number, limits: number[]) =>
    editTwoWay(layer.id, `${side}-${i}`, { [side]: { ...encoding[side], method: 'manual', breaks: limits } })

  function grab(event: PointerEvent<SVGElement>, side: Side, i: number) {
    event.preventDefault()
    ;(event.currentTarget as unknown as HTMLElement).focus()
    const box = host.current?.getBoundingClientRect()
    let limits = pairs[side].slice(1)
    follow(
      queries,
      (e) => {
        const value =
          side === 'first'
            ? across.valueAt(e.clientX - (box?.left ?? 0))
            : up.valueAt(PAD.top + high - (e.clientY - (box?.top ?? 0)))
        limits = moveTo(side, limits, i, value)
        setLive({ side, limits })
      },
      () => set(side, i, limits),
      () => setLive(null),
    )
  }

  const line = (side: Side, i: number, value: number, last: number) => {
    const upright = side === 'first'
    const { low: lowest, high: greatest, x, valueAt } = upright ? across : up
    const at = upright ? acrossPx(value) : upPx(value)
    return (
      <g
        key={`${side} ${i}`}
        role="slider"
        tabIndex={0}
        aria-label={`Upper limit of class ${i + 1} of ${last} of ${encoding[side].field}`}
        aria-orientation={upright ? 'horizontal' : 'vertical'}
        aria-valuenow={value}
        aria-valuemin={lowest}
        aria-valuemax={greatest}
        data-testid={`${side}-${i}`}
        style={{ cursor: upright ? 'ew-resize' : 'ns-resize', touchAction: 'none' }}
        onPointerDown={(e) => grab(e, side, i)}
        onKeyDown={(e) => {
          const to = keyed(
            e.key,
            e.shiftKey,
            value,
            valueAt(x(value) + (upright ? wide : high) / 200) - value,
            lowest,
            greatest,
          )
          if (to === null) return
          e.preventDefault()
          set(side, i, moveTo(side, limitsOf(side), i, to))
        }}
        transform={upright ? `translate(${at},${PAD.top})` : `translate(${PAD.left},${at})`}
      >
        {upright ? (
          <rect x={-12} width={24} height={high + 12} fill="transparent" />
        ) : (
          <rect x={-12} y={-12} width={wide + 12} height={24} fill="transparent" />
        )}
        <line
          {...(upright ? { y2: high + 6 } : { x1: -6, x2: wide })}
          stroke={theme.palette.text.primary}
          strokeWidth={1.25}
        />
        <path
          d={upright ? `M-4.5 ${high + 8} h9 l-4.5 -7z` : 'M-8 -4.5 v9 l7 -4.5z'}
          fill={theme.palette.primary.main}
          stroke={theme.palette.background.paper}
        />
        <text
          {...(upright ? { y: high + 20, textAnchor: 'middle' } : { x: -12, y: 4, textAnchor: 'end' })}
          fontSize={11}
          fill={theme.palette.text.primary}
          style={{ fontFamily: '"Source Code Pro", monospace' }}
        >
          {value.toLocaleString('en', { maximumSignificantDigits: 4 })}
        </text>
      </g>
    )
  }

  const shown = pairs.x.length < pairs.of ? `${pairs.x.length.toLocaleString('en')} of ` : ''
  return (
    <Box
      sx={{
        gridColumn: 'span 2',
        display: 'flex',
        flexDirection: 'column',
        minWidth: 0,
        borderLeft: 1,
        borderColor: 'line',
      }}
    >
      <Typography variant="caption" color="text.secondary" sx={{ px: 1.5, pt: 0.75 }}>
        {shown}
        {pairs.of.toLocaleString('en')} pairs, {pairs.missing.toLocaleString('en')} without one of the two
        {(['first', 'second'] as const).map((side) => (
          <span key={side}>
            {' · '}
            {side === 'first' ? 'across' : 'up'}: {encoding[side].field},{' '}
            <Button
              size="small"
              aria-pressed={logarithmic(side)}
              aria-label={`Axis of ${encoding[side].field}`}
              title={logarithmic(side) ? 'Let values stand in proportion' : 'Let values stand by their logarithms'}
              onClick={() => setAsked({ ...asked, [side]: !logarithmic(side) })}
              sx={{ minWidth: 0, p: 0, fontSize: 'inherit', fontWeight: 400, textDecoration: 'underline' }}
            >
              {logarithmic(side) ? 'logarithmic' : 'linear'}
            </Button>
          </span>
        ))}
      </Typography>
      <Box ref={host} sx={{ flex: 1, minHeight: 120, position: 'relative', overflow: 'hidden' }}>
        <svg
          width={size.width}
          height={size.height}
          role="group"
          aria-label="Pairs of numbers with the limits of both classifications"
          data-testid="pairs"
          style={{ position: 'absolute', inset: 0, userSelect: 'none' }}
        >
          <rect
            x={PAD.left}
            y={PAD.top}
            width={wide}
            height={high}
            fill={theme.palette.background.paper}
            stroke={theme.palette.line}
          />
          {pairs.x.map((x, i) => (
            <circle
              key={i}
              cx={acrossPx(x)}
              cy={upPx(pairs.y[i] ?? 0)}
              r={3}
              fill={pairs.colours[pairs.cell[i] ?? 0]}
              stroke={theme.palette.text.secondary}
              strokeWidth={0.5}
              pointerEvents="none"
            />
          ))}
          {(['first', 'second'] as const).flatMap((side) => {
            const limits = limitsOf(side)
            return limits.slice(0, -1).map((value, i) => line(side, i, value, limits.length))
          })}
        </svg>
      </Box>
    </Box>
  )
}
