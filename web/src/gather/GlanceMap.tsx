import { useTheme } from '@mui/material/styles'
import type { Dataset, Preview } from '../api/types'

type Glance = NonNullable<Preview['glance']>

const STEPS = [90, 45, 30, 15, 10, 5, 2, 1, 0.5, 0.2, 0.1, 0.05, 0.02, 0.01, 0.005, 0.002, 0.001]

interface Props {
  glance: Glance
  /** What else is in the library: it shows whether the place is the right one. */
  others?: readonly Pick<Dataset, 'id' | 'title' | 'bounds'>[]
  width?: number
  height?: number
  /** How many times as large as the data the frame is. */
  room?: number
  label: string
}

/** Where data would lie, on degrees: small enough to be read at a glance, with the other data that lie near. */
export function GlanceMap({ glance, others = [], width = 268, height = 168, room = 2, label }: Props) {
  const { palette } = useTheme()
  const view = framed(asBounds(glance.bounds), width, height, room)
  const near = others.filter(({ bounds }) => bounds && overlaps(asBounds(bounds), view.bounds)).slice(0, 8)
  const step = STEPS.find((each) => view.bounds[2] - view.bounds[0] > 2.2 * each) ?? 0.001
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={label}
      style={{ display: 'block', background: palette.background.default, border: `1px solid ${palette.line}` }}
    >
      {ticks(Math.max(view.bounds[0], -180), Math.min(view.bounds[2], 180), step).map((lon) => (
        <g key={`x${lon}`}>
          <line x1={view.x(lon)} x2={view.x(lon)} y1={0} y2={height} stroke={palette.line} />
          <text x={view.x(lon) + 2} y={height - 3} fontSize={9} fill={palette.text.secondary}>
            {degrees(lon, 'E', 'W')}
          </text>
        </g>
      ))}
      {ticks(Math.max(view.bounds[1], -90), Math.min(view.bounds[3], 90), step).map((lat) => (
        <g key={`y${lat}`}>
          <line x1={0} x2={width} y1={view.y(lat)} y2={view.y(lat)} stroke={palette.line} />
          <text x={2} y={view.y(lat) - 2} fontSize={9} fill={palette.text.secondary}>
            {degrees(lat, 'N', 'S')}
          </text>
        </g>
      ))}
      {near.map(({ id, title, bounds }) => {
        const [west, south, east, north] = asBounds(bounds)
        return (
          <rect
            key={id}
            x={view.x(west)}
            y={view.y(north)}
            width={Math.max(view.x(east) - view.x(west), 2)}
            height={Math.max(view.y(south) - view.y(north), 2)}
            fill="none"
            stroke={palette.text.secondary}
            strokeDasharray="3 2"
          >
            <title>{title}</title>
          </rect>
        )
      })}
      {glance.lines.map((line, i) => (
        <polyline
          key={i}
          points={line.map(([lon = 0, lat = 0]) => `${view.x(lon)},${view.y(lat)}`).join(' ')}
          fill="none"
          stroke={palette.primary.main}
          strokeWidth={1}
        />
      ))}
      {glance.points.map(([lon = 0, lat = 0], i) => (
        <circle key={i} cx={view.x(lon)} cy={view.y(lat)} r={1.8} fill={palette.primary.main} />
      ))}
    </svg>
  )
}

export type Bounds = [west: number, south: number, east: number, north: number]

function asBounds(values: readonly number[] | null | undefined): Bounds {
  const [west = 0, south = 0, east = 0, north = 0] = values ?? []
  return [west, south, east, north]
}

/** A frame around the data that is `room` times as large as they are, true to shape in its middle. */
export function framed(bounds: Bounds, width: number, height: number, room = 2) {
  const [west, south, east, north] = bounds
  const middle = [(west + east) / 2, (south + north) / 2] as const
  const narrow = Math.max(Math.cos((middle[1] * Math.PI) / 180), 0.1)
  const perPixel = Math.max(((east - west) * narrow * room) / width, ((north - south) * room) / height, 0.004 / height)
  const x = (lon: number) => round(width / 2 + ((lon - middle[0]) * narrow) / perPixel)
  const y = (lat: number) => round(height / 2 - (lat - middle[1]) / perPixel)
  const wide = (width * perPixel) / narrow / 2
  const high = (height * perPixel) / 2
  const lon = (left: number) => middle[0] + ((left - width / 2) * perPixel) / narrow
  const lat = (top: number) => middle[1] - (top - height / 2) * perPixel
  return { x, y, lon, lat, bounds: [middle[0] - wide, middle[1] - high, middle[0] + wide, middle[1] + high] as Bounds }
}

/** The line around a box. */
export function outline([west, south, east, north]: Bounds): number[][] {
  return [
    [west, south],
    [east, south],
    [east, north],
    [west, north],
    [west, south],
  ]
}

const round = (value: number) => Math.round(value * 10) / 10

function ticks(from: number, to: number, step: number): number[] {
  const first = Math.ceil(from / step)
  return Array.from({ length: Math.min(Math.floor(to / step) - first + 1, 12) }, (_, i) => (first + i) * step)
}

function degrees(value: number, positive: string, negative: string): string {
  const size = Number(Math.abs(value).toFixed(3))
  return size === 0 ? '0°' : `${size}° ${value > 0 ? positive : negative}`
}

/** Whether two boxes share a place. */
export function overlaps(a: Bounds, b: Bounds): boolean {
  return a[0] <= b[2] && b[0] <= a[2] && a[1] <= b[3] && b[1] <= a[3]
}
