import { memo, useCallback, useEffect, useRef } from 'react'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { InkHeader, Layer, Mark } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Glyph } from '../Glyph'
import { Swatch } from '../key/Swatch'
import { lightNothing, lightRange } from '../sheet/lit'
import { addBreak, breaksOf, classMarks, setBreaks } from './classing'

/** The breaks to type, with the count of each class; a class can be split or joined to the one above. */
export function BreakList({ layer, header }: { layer: Layer; header: InkHeader }) {
  const breaks = useRef<number[]>([])
  useEffect(() => {
    breaks.current = breaksOf(header)
  }, [header])
  const { id } = layer
  const marks = classMarks(header)
  const change = useCallback((next: (breaks: number[]) => number[]) => setBreaks(id, next(breaks.current)), [id])
  const light = useCallback(
    (range: InkHeader['classes'][number], first: boolean) => lightRange(layer, range.lower, range.upper, first),
    [layer],
  )
  return (
    <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, overflow: 'auto' }} aria-label="Breaks" role="group">
      {header.classes
        .map((range, i) => (
          <BreakLine
            key={i}
            at={i}
            range={range}
            last={i === header.classes.length - 1}
            mark={marks[i] ?? null}
            kind={header.kind}
            change={change}
            light={light}
          />
        ))
        .reverse()}
      {header.missing > 0 && (
        <Typography variant="caption" color="text.secondary" sx={{ pl: 8 }}>
          no data: {header.missing.toLocaleString('en')}
        </Typography>
      )}
    </Box>
  )
}

interface LineProps {
  at: number
  range: InkHeader['classes'][number]
  last: boolean
  mark: Mark | null
  kind: string
  change: (next: (breaks: number[]) => number[]) => void
  /** Show on the map what is in a class. */
  light: (range: InkHeader['classes'][number], first: boolean) => void
}

const BreakLine = memo(function BreakLine({ at, range, last, mark, kind, change, light }: LineProps) {
  return (
    <Box
      onPointerEnter={() => light(range, at === 0)}
      onPointerLeave={lightNothing}
      onFocus={() => light(range, at === 0)}
      onBlur={lightNothing}
      sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 26 }}
    >
      <Box
        sx={{ width: 26, display: 'flex', justifyContent: 'center', maxHeight: 22, overflow: 'hidden', flexShrink: 0 }}
      >
        <Swatch mark={mark} kind={kind} size={14} />
      </Box>
      <EditableNumber
        label={`Upper limit of class ${at + 1}`}
        value={range.upper}
        width={82}
        onChange={(value) => change((breaks) => breaks.with(at, value))}
      />
      <Typography
        variant="caption"
        sx={{ flex: 1, textAlign: 'right', color: range.count === 0 ? 'primary.main' : 'text.secondary' }}
      >
        {range.count.toLocaleString('en')}
      </Typography>
      <Tooltip title="Split this class in two">
        <IconButton
          aria-label={`Split class ${at + 1}`}
          sx={{ p: 0.25 }}
          onClick={() => change((breaks) => addBreak(breaks, (range.lower + range.upper) / 2))}
        >
          <Glyph name="plus" sx={{ fontSize: 13 }} />
        </IconButton>
      </Tooltip>
      <Tooltip title="Join it to the class above">
        <span>
          <IconButton
            aria-label={`Take out break ${at + 1}`}
            disabled={last}
            sx={{ p: 0.25 }}
            onClick={() => change((breaks) => breaks.toSpliced(at, 1))}
          >
            <Glyph name="minus" sx={{ fontSize: 13 }} />
          </IconButton>
        </span>
      </Tooltip>
    </Box>
  )
})
