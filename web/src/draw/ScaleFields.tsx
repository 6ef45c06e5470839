import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Scales } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Labelled } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'
import { useSheet } from '../sheet/store'
import { useFrame } from '../sheet/useFrame'

interface Props {
  of: string
  scales: Scales | null | undefined
  onChange: (scales: Scales | null) => void
}

/** At which scales something is seen, by their denominators; the scale of the map as it stands can be taken for either end. */
export function ScaleFields({ of, scales, onChange }: Props) {
  const frame = useFrame()?.frame
  const level = useSheet((s) => s.level)
  const now = frame ? Number(frame.scale(frame.resolution(level)).toPrecision(2)) : null
  const set = (end: Partial<Scales>) => {
    const { closest = null, farthest = null } = { ...scales, ...end }
    onChange(closest === null && farthest === null ? null : { closest, farthest })
  }
  const ends = [
    ['closest', 'not closer than', scales?.closest ?? null],
    ['farthest', 'not farther than', scales?.farthest ?? null],
  ] as const
  return (
    <>
      {ends.map(([end, words, value]) => (
        <Labelled key={end} label={end === 'closest' ? 'Seen' : ''}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minWidth: 0 }}>
            <Typography variant="caption" color="text.secondary" sx={{ whiteSpace: 'nowrap' }}>
              {words} 1:
            </Typography>
            <EditableNumber
              label={`${of}: ${words} 1 to`}
              value={value ?? 0}
              width={72}
              onChange={(typed) => set({ [end]: withinOrNone(limits.Scales[end], typed) })}
            />
            {now !== null && now !== value && (
              <Button
                size="small"
                title={`The map as it stands: 1:${now.toLocaleString('en')}`}
                aria-label={`${of}: ${words} now`}
                onClick={() => set({ [end]: now })}
                sx={{ minWidth: 0, px: 0.5 }}
              >
                now
              </Button>
            )}
          </Box>
        </Labelled>
      ))}
    </>
  )
}
