import { lazy, Suspense, useState } from 'react'
import Box from '@mui/material/Box'
import { Choice } from '../bench/Labelled'
import { labelOf, numericNames } from '../fields'
import { written } from '../rules/names'
import { type ReadDataset, rowsRead } from '../sheet/read'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))
/** The key of what is no field but calculated from some. */
export const CALCULATED = '=calculated'

interface Props {
  label: string
  dataset: ReadDataset
  value: string
  /** Any field, not only those of numbers. */
  any?: boolean
  /** What is no field, and comes first: a key and words for each. */
  others?: readonly (readonly [string, string])[]
  /** A field that is not offered. */
  without?: string
  onChange: (field: string) => void
}

/** A field, or numbers that are calculated from fields. */
export function FieldOf({ label, dataset, value, any = false, others = [], without, onChange }: Props) {
  const all = any ? dataset.fields.map((field) => field.name) : numericNames(dataset.fields)
  const fields = all.filter((field) => field !== without)
  const isOther = others.some(([key]) => key === value)
  const [calculating, calculate] = useState(false)
  const calculated = calculating || !(isOther || fields.includes(value))
  return (
    <>
      <Choice
        label={label}
        value={calculated ? CALCULATED : value}
        options={[
          ...others,
          ...fields.map((f) => [f, labelOf(dataset.fields, f)] as const),
          [CALCULATED, 'calculated …'] as const,
        ]}
        onChange={(chosen) => {
          calculate(chosen === CALCULATED)
          if (chosen !== CALCULATED) onChange(chosen)
        }}
      />
      {calculated && (
        <Calculated
          label={`${label}, calculated`}
          dataset={dataset}
          value={isOther ? '' : fields.includes(value) ? written(value) : value}
          onChange={onChange}
        />
      )}
    </>
  )
}

interface CalculatedProps {
  label: string
  dataset: ReadDataset
  value: string
  onChange: (text: string) => void
}

/** Where numbers that are calculated from fields are written. What has a mistake is not taken over. */
export function Calculated({ label, dataset, value, onChange }: CalculatedProps) {
  return (
    <Box sx={{ width: 270, my: 0.5 }}>
      <Suspense fallback={<Box sx={{ height: 100 }} />}>
        <ConditionEditor rows={rowsRead(dataset)} value={value} label={label} gives="number" onChange={onChange} />
      </Suspense>
    </Box>
  )
}
