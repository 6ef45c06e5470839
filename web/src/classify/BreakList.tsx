import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { InkHeader, Layer } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Glyph } from '../Glyph'
import { Swatch } from '../key/Swatch'
import { addBreak, breaksOf, setBreaks } from './classing'

/** The breaks to type, with the count of each class; a class can be split or joined to the one below. */
export function BreakList({ layer, header }: { layer: Layer; header: InkHeader }) {
  const breaks = breaksOf(header)
  return (
    <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, overflow: 'auto' }} aria-label="Breaks" role="group">
      {header.classes
        .map((one, i) => ({ one, i }))
        .reverse()
        .map(({ one, i }) => (
          <Box key={i} sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 26 }}>
            <Box
              sx={{
                width: 26,
                display: 'flex',
                justifyContent: 'center',
                maxHeight: 22,
                overflow: 'hidden',
                flexShrink: 0,
              }}
            >
              <Swatch mark={header.palette[i] ?? null} kind={header.kind} size={14} />
            </Box>
            <EditableNumber
              label={`Upper limit of class ${i + 1}`}
              value={one.upper}
              width={82}
              onChange={(value) =>
                setBreaks(
                  layer.id,
                  breaks.map((b, j) => (j === i ? value : b)),
                )
              }
            />
            <Typography
              variant="caption"
              sx={{ flex: 1, textAlign: 'right', color: one.count === 0 ? 'primary.main' : 'text.secondary' }}
            >
              {one.count.toLocaleString('en')}
            </Typography>
            <Tooltip title="Split this class in two">
              <IconButton
                aria-label={`Split class ${i + 1}`}
                sx={{ p: 0.25 }}
                onClick={() => setBreaks(layer.id, addBreak(breaks, (one.lower + one.upper) / 2))}
              >
                <Glyph name="plus" sx={{ fontSize: 13 }} />
              </IconButton>
            </Tooltip>
            <Tooltip title="Join it to the class above">
              <span>
                <IconButton
                  aria-label={`Take out break ${i + 1}`}
                  disabled={i === breaks.length - 1}
                  sx={{ p: 0.25 }}
                  onClick={() =>
                    setBreaks(
                      layer.id,
                      breaks.filter((_, j) => j !== i),
                    )
                  }
                >
                  <Glyph name="minus" sx={{ fontSize: 13 }} />
                </IconButton>
              </span>
            </Tooltip>
          </Box>
        ))}
      {header.missing > 0 && (
        <Typography variant="caption" color="text.secondary" sx={{ pl: 8 }}>
          no data: {header.missing}
        </Typography>
      )}
    </Box>
  )
}
