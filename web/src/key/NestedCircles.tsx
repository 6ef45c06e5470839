import ButtonBase from '@mui/material/ButtonBase'
import type { KeyEntry } from '../api/types'
import { useSheet } from '../sheet/store'

/** Px of a line of words beside nested circles. */
export const NESTED_ROW = 22
const LEAD = 14

/** Circles in one another on one ground line, the largest first, each with a line that leads to its words beside. */
export function NestedCircles({ entries, layerId }: { entries: KeyEntry[]; layerId: string }) {
  const { choose, show } = useSheet.getState()
  const half = ({ mark }: KeyEntry) => Math.max(0, ...(mark?.strokes ?? []).map(({ width }) => width / 2))
  const most = Math.max(...entries.map((entry) => (entry.mark?.radius ?? 0) + half(entry)))
  const height = Math.max(2 * most, NESTED_ROW * entries.length)
  const ground = height / 2 + most
  const first = (height - NESTED_ROW * entries.length) / 2
  return (
    <ButtonBase
      aria-label="Circles in one another"
      onClick={(e) => {
        e.stopPropagation()
        choose(layerId)
        show('draw')
      }}
      sx={{ flexShrink: 0 }}
    >
      <svg width={2 * most + LEAD} height={height} aria-hidden="true">
        {entries.map((entry, i) => {
          const { mark } = entry
          if (!mark) return null
          const circle = { cx: most, cy: ground - half(entry) - mark.radius, r: mark.radius }
          return (
            <g key={entry.id} opacity={entry.hidden ? 0.3 : 1}>
              <circle {...circle} fill={mark.fill} fillOpacity={mark.fill_opacity} />
              {mark.strokes.map(({ colour, width, opacity }, j) => (
                <circle key={j} {...circle} fill="none" stroke={colour} strokeWidth={width} strokeOpacity={opacity} />
              ))}
              <path
                d={`M${circle.cx} ${circle.cy - circle.r}L${2 * most + LEAD - 4} ${first + NESTED_ROW * (i + 0.5)}`}
                stroke="currentColor"
                strokeWidth={0.6}
              />
            </g>
          )
        })}
      </svg>
    </ButtonBase>
  )
}
