import { lazy, Suspense, useState } from 'react'
import Box from '@mui/material/Box'
import { Choice } from '../bench/Labelled'
import { labelOf, numericNames } from '../fields'
import { written } from '../rules/names'
import { type ReadDataset, rowsRead } from '../sheet/read'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))
const CALCULATED = '='

interface Props {
  label: string
  dataset: ReadDataset
  value: string
  /** Any field, not only those of numbers. */
  any?: boolean
  onChange: (field: string) => void
}

/** A field, or numbers that are calculated from fields. */
export function FieldOf({ label, dataset, value, any = false, onChange }: Props) {
  const fields = any ? dataset.fields.map((field) => field.name) : numericNames(dataset.fields)
  const [calculating, calculate] = useState(false)
  const calculated = calculating || !fields.includes(value)
  return (
    <>
      <Choice
        label={label}
        value={calculated ? CALCULATED : value}
        options={[
          ...fields.map((f) => [f, labelOf(dataset.fields, f)] as const),
          [CALCULATED, 'calculated …'] as const,
        ]}
        onChange={(chosen) => {
          calculate(chosen === CALCULATED)
          if (chosen !== CALCULATED) onChange(chosen)
        }}
      />
      {calculated && (
        <Box sx={{ width: 270, my: 0.5 }}>
          <Suspense fallback={<Box sx={{ height: 100 }} />}>
            <ConditionEditor
              rows={rowsRead(dataset)}
              value={fields.includes(value) ? written(value) : value}
              label={`${label}, calculated`}
              gives="number"
              onChange={onChange}
            />
          </Suspense>
        </Box>
      )}
    </>
  )
}
