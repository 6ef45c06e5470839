import type { Mark } from '../api/types'
import { rgba } from '../painter/pens'

/** A mark as the key shows it: area, line or point, at the size at which the map has it. */
export function Swatch({ mark, kind, size = 18 }: { mark: Mark | null; kind: string; size?: number }) {
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
  const stroke = { stroke: rgba(mark.stroke, mark.stroke_opacity), strokeWidth: Math.min(mark.stroke_width, 4) }
  const fill = rgba(mark.fill, mark.fill_opacity)
  if (kind === 'points') {
    const side = Math.max(size, 2 * (mark.radius + mark.stroke_width) + 2)
    return (
      <svg width={side} height={side} aria-hidden="true">
        <circle cx={side / 2} cy={side / 2} r={mark.radius} fill={fill} {...stroke} />
      </svg>
    )
  }
  return (
    <svg width={size + 6} height={size} aria-hidden="true">
      {kind === 'lines' ? (
        <path
          d={`M1 ${size - 5} L${size / 2} 5 L${size + 5} ${size - 7}`}
          fill="none"
          {...stroke}
          strokeLinejoin="round"
        />
      ) : (
        <rect x={1} y={2} width={size + 4} height={size - 4} fill={fill} {...stroke} />
      )}
    </svg>
  )
}
