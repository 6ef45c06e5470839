import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { SymbolShape } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { useSheet } from '../sheet/store'
import { useFrame } from '../sheet/useFrame'

const UNITS = [
  ['px', 'px of the screen'],
  ['ground', 'metres on the ground'],
] as const

interface Props {
  symbol: SymbolShape
  /** Px of it, or of the largest where sizes vary. */
  size: number
  sized: boolean
  of: 'Radius' | 'Width'
  onChange: (tag: string, values: Partial<SymbolShape>) => void
}

/** Whether sizes are those of the screen or of the ground, and then how many metres. They begin as large as they are seen now. */
export function GroundField({ symbol, size, sized, of, onChange }: Props) {
  const frame = useFrame()?.frame
  const level = useSheet((s) => s.level)
  const ground = symbol.ground ?? null
  const change = (metres: number | null) => onChange('ground', { ground: metres })
  const seen = frame ? Number((size * frame.resolution(level) * frame.metres).toPrecision(2)) : 100
  return (
    <>
      <Choice
        label="Sizes in"
        value={ground === null ? 'px' : 'ground'}
        options={UNITS}
        onChange={(unit) => change(unit === 'px' ? null : seen)}
      />
      {ground !== null && (
        <Labelled label={sized ? 'Largest is' : `${of} is`}>
          <EditableNumber
            label={sized ? `${of} of the largest, metres` : `${of}, metres`}
            value={ground}
            limits={limits.Symbol.ground}
            width={80}
            onChange={change}
          />
          <Typography variant="caption" color="text.secondary">
            m on the ground; px are the key’s
          </Typography>
        </Labelled>
      )}
    </>
  )
}
