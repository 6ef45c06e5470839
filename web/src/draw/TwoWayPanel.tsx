import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import type { Classing } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { METHOD_WORDS } from '../classify/words'
import { useSheet } from '../sheet/store'
import { ColourField } from './ColourField'
import { FieldOf } from './FieldOf'
import { NoData } from './NoData'
import type { EncodingBy, PanelProps } from './panels'

const COUNTS = ['2', '3', '4'] as const
const CORNERS = [
  ['low', 'Both low'],
  ['first', 'First high'],
  ['second', 'Second high'],
  ['high', 'Both high'],
] as const

type TwoWay = EncodingBy<'colour', 'two-way'>

/** Two fields in few classes each, and the colours at the corners of their square. */
export function TwoWayPanel({ encoding, dataset, onChange }: PanelProps<TwoWay>) {
  const show = useSheet((s) => s.show)
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 3 }}>
      <Box>
        <TwoSides encoding={encoding} dataset={dataset} onChange={onChange} />
        <Button onClick={() => show('classify')}>Breaks over the pairs</Button>
      </Box>
      <Box>
        {CORNERS.map(([corner, label]) => (
          <Labelled key={corner} label={label}>
            <ColourField
              label={label}
              value={encoding.corners[corner]}
              onChange={(colour) => onChange(corner, { corners: { ...encoding.corners, [corner]: colour } })}
            />
          </Labelled>
        ))}
        <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
      </Box>
    </Box>
  )
}

/** The two fields, and how each is put into classes. */
export function TwoSides({ encoding, dataset, onChange }: Omit<PanelProps<TwoWay>, 'layer'>) {
  const side = (name: 'first' | 'second', label: string) => (
    <Side
      label={label}
      dataset={dataset}
      classing={encoding[name]}
      onChange={(classing) => onChange(name, { [name]: classing })}
    />
  )
  return (
    <>
      {side('first', 'First')}
      {side('second', 'Second')}
    </>
  )
}

interface SideProps {
  label: string
  dataset: PanelProps<unknown>['dataset']
  classing: Classing
  onChange: (classing: Classing) => void
}

function Side({ label, dataset, classing, onChange }: SideProps) {
  const byHand = classing.method === 'manual'
  const methods = (Object.entries(METHOD_WORDS) as [Classing['method'], string][]).filter(
    ([method]) => byHand || method !== 'manual',
  )
  const computed = { method: byHand ? ('quantile' as const) : classing.method, breaks: [] }
  return (
    <Box sx={{ mb: 1 }}>
      <FieldOf
        label={label}
        dataset={dataset}
        value={classing.field}
        onChange={(field) => onChange({ ...classing, ...computed, field, normalise: null })}
      />
      <Choice
        label="Method"
        value={classing.method}
        options={methods}
        onChange={(method) => method !== 'manual' && onChange({ ...classing, method, breaks: [] })}
      />
      <Choice
        label="Classes"
        value={String(classing.classes)}
        options={COUNTS.map((n) => [n, n] as const)}
        onChange={(n) => onChange({ ...classing, ...computed, classes: Number(n) })}
      />
    </Box>
  )
}
