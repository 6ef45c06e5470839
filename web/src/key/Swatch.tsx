import { useId } from 'react'
import type { Mark } from '../api/types'

interface Props {
  mark: Mark | null
  kind: string
  size?: number
}

/** A mark as the key shows it: area, line or point, at the size at which the map has it. */
export function Swatch({ mark, kind, size = 18 }: Props) {
  const name = useId()
  if (!mark)
    return (
      <svg width={size} height={size} aria-hidden="true">
        <rect
          x={1.5}
          y={3.5}
          width={size - 3}
          height={size - 7}
          fill="none"
          stroke="currentColor"
          strokeDasharray="2 2"
          strokeOpacity={0.6}
        />
      </svg>
    )
  const points = kind === 'points'
  const side = points ? Math.max(size, acrossOf(mark) + 2) : size
  const width = points ? side : size + 6
  if (mark.icon) {
    const { radius } = mark
    return (
      <svg width={width} height={side} aria-hidden="true">
        <image
          href={`data:image/png;base64,${mark.icon}`}
          x={width / 2 - radius}
          y={side / 2 - radius}
          width={2 * radius}
          height={2 * radius}
          opacity={mark.fill_opacity}
          transform={`rotate(${mark.turn} ${width / 2} ${side / 2})`}
        />
        <Sign mark={mark} width={width} height={side} />
      </svg>
    )
  }
  const outline = (key: string, look: React.SVGProps<SVGGeometryElement>) => (
    <Outline key={key} mark={mark} kind={kind} width={width} height={side} look={look} />
  )
  return (
    <svg width={width} height={side} aria-hidden="true">
      {mark.texture && <Pattern name={name} texture={mark.texture} />}
      {kind !== 'lines' && outline('fill', { fill: mark.fill, fillOpacity: mark.fill_opacity })}
      {mark.texture && kind !== 'lines' && outline('texture', { fill: `url(#${name})` })}
      {mark.strokes.map((line, i) =>
        outline(`stroke ${i}`, {
          fill: 'none',
          stroke: line.colour,
          strokeOpacity: line.opacity,
          strokeWidth: Math.min(line.width, 6),
          strokeDasharray: line.dash.length ? line.dash.join(' ') : undefined,
          strokeLinecap: line.cap as 'round',
          strokeLinejoin: 'round',
          vectorEffect: 'non-scaling-stroke',
        }),
      )}
      <Sign mark={mark} width={width} height={side} />
    </svg>
  )
}

/** What stands over a point's shape. */
function Sign({ mark, width, height }: { mark: Mark; width: number; height: number }) {
  if (!mark.sign) return null
  const place = `translate(${width / 2} ${height / 2}) scale(${mark.radius})`
  return <path d={mark.sign} fill={mark.sign_colour} transform={place} />
}

/** Px that a point's symbol takes from one side to the other. */
export function acrossOf({ strokes, radius, path, icon }: Mark): number {
  const half = Math.max(0, ...strokes.map((line) => line.width)) / 2
  return 2 * (radius * (path || icon ? 1.3 : 1) + half)
}

interface OutlineProps {
  mark: Mark
  kind: string
  width: number
  height: number
  look: React.SVGProps<SVGGeometryElement>
}

function Outline({ mark, kind, width, height, look }: OutlineProps) {
  const all = look as React.SVGProps<SVGPathElement>
  if (kind === 'lines')
    return <path d={`M1 ${height - 5} L${(width - 6) / 2} 5 L${width - 1} ${height - 7}`} {...all} />
  if (kind !== 'points')
    return <rect x={1} y={2} width={width - 2} height={height - 4} {...(look as React.SVGProps<SVGRectElement>)} />
  if (!mark.path)
    return <circle cx={width / 2} cy={height / 2} r={mark.radius} {...(look as React.SVGProps<SVGCircleElement>)} />
  const place = `translate(${width / 2} ${height / 2}) rotate(${mark.turn}) scale(${mark.radius})`
  return <path d={mark.path} transform={place} {...all} />
}

function Pattern({ name, texture }: { name: string; texture: NonNullable<Mark['texture']> }) {
  const { kind, colour, opacity, spacing, width, turn } = texture
  const ink = { fill: colour, opacity }
  return (
    <pattern
      id={name}
      width={spacing}
      height={spacing}
      patternUnits="userSpaceOnUse"
      patternTransform={`rotate(${turn})`}
    >
      {kind === 'dots' ? (
        <circle cx={spacing / 2} cy={spacing / 2} r={width / 2} {...ink} />
      ) : (
        <rect width={spacing} height={width} {...ink} />
      )}
      {kind === 'cross' && <rect width={width} height={spacing} {...ink} />}
    </pattern>
  )
}
