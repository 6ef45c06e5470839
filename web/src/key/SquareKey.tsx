import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { KeyEntry, KeySection } from '../api/types'
import { EditableText } from './EditableText'
import { reword } from './editKey'

const SIDE = 22
/** Px left of the fields and below them, for the arrows. */
const MARGIN = 12
/** Px of half an arrow's head. */
const BARB = 3.5

interface Props {
  layerId: string
  entries: KeyEntry[]
  across: number
  /** What rises to the right, and what upwards. */
  sides: KeySection['sides']
  locked: boolean
}

/** The square of a two-way key, the low corner at the lower left; a field tells its limits and its count to who points at it. */
export function SquareKey({ layerId, entries, across, sides: [right, upwards], locked }: Props) {
  const [width, height] = [SIDE * across, SIDE * (entries.length / across)]
  const [x, y, end] = [MARGIN / 2, height + MARGIN / 2, MARGIN + width - 1]
  const arrows = `M${x} ${height}V1m${-BARB} ${BARB}L${x} 1l${BARB} ${BARB}M${MARGIN} ${y}H${end}m${-BARB} ${-BARB}L${end} ${y}l${-BARB} ${BARB}`
  return (
    <Box sx={{ pb: 0.5 }}>
      {upwards && <SideText layerId={layerId} side={upwards} locked={locked} />}
      <svg
        width={MARGIN + width}
        height={height + MARGIN}
        role="img"
        aria-label="Square of two classifications"
        style={{ display: 'block' }}
      >
        {entries.map((entry, i) => (
          <rect
            key={entry.id}
            x={MARGIN + SIDE * (i % across)}
            y={SIDE * Math.floor(i / across)}
            width={SIDE}
            height={SIDE}
            fill={entry.mark?.fill ?? 'none'}
            fillOpacity={entry.mark?.fill_opacity ?? 1}
          >
            <title>{`${entry.text}: ${entry.count ?? 0}`}</title>
          </rect>
        ))}
        <path d={arrows} fill="none" stroke="currentColor" />
      </svg>
      {right && <SideText layerId={layerId} side={right} locked={locked} />}
    </Box>
  )
}

function SideText({ layerId, side, locked }: { layerId: string; side: KeySection['sides'][number]; locked: boolean }) {
  return (
    <>
      <Box sx={{ display: 'flex' }}>
        <EditableText
          value={side.text}
          label={`Name of ${side.made_text}`}
          locked={locked}
          onChange={(text) => reword(layerId, side, text)}
        />
      </Box>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ lineHeight: 1.2 }}>
        {side.limits}
      </Typography>
    </>
  )
}
