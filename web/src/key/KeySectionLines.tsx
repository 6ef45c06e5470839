import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { InkHeader, KeySection } from '../api/types'
import { isOf } from '../classify/classing'
import { EntryLine } from './EntryLine'
import { acrossOf } from './Swatch'
import { NESTED_ROW, NestedCircles } from './NestedCircles'
import { SquareKey } from './SquareKey'

interface Props {
  section: KeySection
  /** The classes of the layer, where this section has entries of them. */
  classes: InkHeader['classes']
  layerId: string
  kind: string
  locked: boolean
  columns: number
}

/** A part of a layer's key: a heading where it has one, a ramp or a square, and its lines. */
export function KeySectionLines({ section, classes, layerId, kind, locked, columns }: Props) {
  const { heading, channel, entries, ramp, square, words, nested, sides } = section
  const several = entries.length > 1 || ramp.length > 0
  const squared = square ? square[0] * square[1] : 0
  const across = nested || entries.length - squared < 2 ? 1 : columns
  // Texts stand under one another whatever the size of the samples.
  const wide = Math.max(SAMPLE, ...entries.map(({ mark }) => (kind === 'points' && mark ? acrossOf(mark) + 4 : 0)))
  return (
    <>
      {heading && several && (
        <Typography variant="body2" sx={{ pt: 0.5, fontWeight: 500, fontSize: 12.5 }}>
          {heading}
        </Typography>
      )}
      {ramp.length > 0 && <RampKey colours={ramp} said={words} />}
      {square && (
        <SquareKey
          layerId={layerId}
          entries={entries.slice(0, squared)}
          across={square[0]}
          sides={sides}
          locked={locked}
        />
      )}
      <Box sx={nested ? { display: 'flex', alignItems: 'center' } : undefined}>
        {nested && <NestedCircles entries={entries} layerId={layerId} />}
        <Box sx={{ columnCount: across, columnGap: '8px', '& > *': { breakInside: 'avoid' } }}>
          {entries.slice(squared).map((entry) => {
            // The id of a class says its limits, which change while a break is dragged: the line stays the same one.
            const at = classes.findIndex(({ lower, upper }) => isOf(entry.limits, lower, upper))
            const place = at >= 0 ? `class-${at}` : entry.id
            return (
              <Box key={`${channel} ${place}`} sx={nested ? { height: NESTED_ROW } : undefined}>
                <EntryLine
                  place={place}
                  layerId={layerId}
                  entry={entry}
                  kind={kind}
                  locked={locked}
                  wide={nested ? 0 : wide}
                  narrow={across > 1}
                  order={channel === 'pins' ? [] : entries.map((each) => each.id)}
                />
              </Box>
            )
          })}
        </Box>
      </Box>
    </>
  )
}

/** Px that a sample takes at least. */
const SAMPLE = 30

function RampKey({ colours, said }: { colours: string[]; said: string[] }) {
  return (
    <Box sx={{ pr: 4, py: 0.5 }}>
      <Box style={{ background: `linear-gradient(to right, ${colours.join(',')})` }} sx={{ height: 10 }} />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 12 }}>
        {said.map((words, i) => (
          <span key={i}>{words}</span>
        ))}
      </Box>
    </Box>
  )
}
