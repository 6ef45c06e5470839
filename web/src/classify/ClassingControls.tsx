import { lazy, memo, Suspense, useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Classing, Layer, Method } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { labelOf, numericNames } from '../fields'
import { written } from '../rules/names'
import { inkQuery } from '../sheet/queries'
import { layerOfLook } from '../sheet/looks'
import { type ReadDataset, rowsRead } from '../sheet/read'
import { layerOf, useSheet } from '../sheet/store'
import {
  breaksOf,
  changeClassing,
  changeLimits,
  chooseDivisor,
  chooseField,
  mostClasses,
  stepClasses,
} from './classing'
import { SmallDenominators } from './SmallDenominators'
import { SuggestedCount } from './SuggestedCount'
import { METHOD_WORDS } from './words'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))
const CALCULATED = '='
const PER: [string, string][] = [
  ['1', 'one'],
  ['100', 'hundred (%)'],
  ['1000', 'thousand'],
  ['100000', 'hundred thousand'],
]

function divisorOf(key: string): Classing['normalise'] {
  if (key === '=') return null
  if (key === '=area') return { by: 'area' }
  return key === '=total' ? { by: 'total' } : { by: 'field', field: key, per: 1 }
}
const METHODS = Object.entries(METHOD_WORDS) as [Method, string][]

interface FieldProps {
  layerId: string
  dataset: ReadDataset
  field: string
  normalise: Classing['normalise'] | null
  weight: string | null
}

/** Which numbers are classed: a field, what it is divided by, and how much each row counts. */
export const FieldChoice = memo(function FieldChoice({ layerId, dataset, field, normalise, weight }: FieldProps) {
  const fields = numericNames(dataset.fields)
  // A sheet may name an expression where a field can stand.
  const named = (name: string) => (fields.includes(name) ? labelOf(dataset.fields, name) : name)
  const also = (name: string | null) => (name && !fields.includes(name) ? [name, ...fields] : fields)
  const divisors = [
    ['=', 'nothing'],
    ['=total', 'their total (share in %)'],
    ...(dataset.kind === 'areas' ? [['=area', 'area in km² (geodesic)']] : []),
    ...also(normalise?.by === 'field' ? normalise.field : null)
      .filter((f) => f !== field)
      .map((f) => [f, named(f)]),
  ] as [string, string][]
  const [calculating, calculate] = useState(false)
  const calculated = calculating || !fields.includes(field)
  const weights = [['=', 'each alike'], ...also(weight).map((f) => [f, named(f)])] as [string, string][]
  return (
    <>
      <Choice
        label="Field"
        value={calculated ? CALCULATED : field}
        options={[...fields.map((f) => [f, named(f)] as const), [CALCULATED, 'calculated …'] as const]}
        onChange={(chosen) => {
          calculate(chosen === CALCULATED)
          if (chosen !== CALCULATED) chooseField(layerId, chosen)
        }}
      />
      {calculated && (
        <Box sx={{ width: 270, my: 0.5 }}>
          <Suspense fallback={<Box sx={{ height: 100 }} />}>
            <ConditionEditor
              key={layerId}
              rows={rowsRead(dataset)}
              value={fields.includes(field) ? written(field) : field}
              label="Calculated"
              gives="number"
              onChange={(text) => chooseField(layerId, text)}
            />
          </Suspense>
        </Box>
      )}
      <Choice
        label="Divide by"
        value={normalise?.by === 'field' ? normalise.field : normalise ? `=${normalise.by}` : '='}
        options={divisors}
        onChange={(key) => chooseDivisor(layerId, divisorOf(key))}
      />
      {normalise?.by === 'field' && (
        <Choice
          label="For every"
          value={String(normalise.per)}
          options={
            PER.some(([n]) => n === String(normalise.per))
              ? PER
              : [...PER, [String(normalise.per), String(normalise.per)]]
          }
          onChange={(per) => chooseDivisor(layerId, { ...normalise, per: Number(per) })}
        />
      )}
      {normalise?.by === 'field' && <SmallDenominators layerId={layerId} normalise={normalise} />}
      <Choice
        label="Weigh by"
        value={weight ?? '='}
        options={weights}
        onChange={(key) => changeClassing(layerId, 'weight', (c) => void (c.weight = key === '=' ? null : key))}
      />
    </>
  )
})

/** The layer as the look being edited draws it alone. */
function editedLayer(layerId: string): Layer | null {
  const layer = layerOf(layerId)
  return layer && layerOfLook(layer, useSheet.getState().ruleId)
}

/** How the classes are made, and how many of them. */
export const MethodControls = memo(function MethodControls(props: {
  layerId: string
  method: Method
  classes: number
  nice: boolean
}) {
  const { layerId, method, classes, nice } = props
  const queries = useQueryClient()
  const choose = async (next: Method) => {
    // By hand begins with the breaks as they are, which may still be on their way.
    const ink =
      next === 'manual' ? await queries.ensureQueryData(inkQuery(editedLayer(layerId))).catch(() => null) : null
    changeLimits(layerId, 'method', (c) => {
      c.method = next
      c.breaks = ink ? breaksOf(ink.header) : []
    })
  }
  return (
    <>
      <Choice label="Method" value={method} options={METHODS} onChange={(next) => void choose(next)} />
      <Labelled label="Classes">
        <Button
          variant="outlined"
          aria-label="Fewer classes"
          onClick={() => stepClasses(layerOf(layerId), -1)}
          disabled={method === 'manual' || classes <= 1}
        >
          −
        </Button>
        <Typography
          component="output"
          aria-label="Number of classes"
          sx={{ minWidth: 22, textAlign: 'center', fontSize: 14 }}
        >
          {classes}
        </Typography>
        <Button
          variant="outlined"
          aria-label="More classes"
          onClick={() => stepClasses(layerOf(layerId), 1)}
          disabled={method === 'manual' || classes >= mostClasses()}
        >
          +
        </Button>
        <Typography variant="caption" color="text.secondary">
          [ and ]
        </Typography>
      </Labelled>
      <SuggestedCount layerId={layerId} classes={classes} byHand={method === 'manual'} />
      <Labelled label="Limits">
        <label style={{ fontSize: 13 }}>
          <input
            type="checkbox"
            checked={nice && method !== 'manual'}
            disabled={method === 'manual'}
            onChange={(e) => changeLimits(layerId, 'nice', (c) => void (c.nice = e.target.checked))}
          />{' '}
          rounded to sayable numbers
        </label>
      </Labelled>
    </>
  )
})
