import { Fragment, memo } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Classing, Layer, Method } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { FieldOf } from '../draw/FieldOf'
import { inkQuery } from '../sheet/queries'
import { layerOfLook } from '../sheet/looks'
import type { ReadDataset } from '../sheet/read'
import { layerOf, useSheet } from '../sheet/store'
import { breaksOf, changeClassing, changeLimits, chooseDivisor, chooseField, stepClasses } from './classing'
import { SmallDenominators } from './SmallDenominators'
import { SuggestedCount } from './SuggestedCount'
import { METHOD_WORDS } from './words'

const PER: [string, string][] = [
  ['1', 'one'],
  ['100', 'hundred (%)'],
  ['1000', 'thousand'],
  ['100000', 'hundred thousand'],
]

function divisorOf(key: string, before: Classing['normalise'] | null): Classing['normalise'] {
  if (key === '=') return null
  if (key === '=area') return { by: 'area' }
  return key === '=total' ? { by: 'total' } : { by: 'field', field: key, per: before?.by === 'field' ? before.per : 1 }
}
const WEIGHTS: [string, string][] = [['=', 'each alike']]
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
  const divisors: (readonly [string, string])[] = [
    ['=', 'nothing'],
    ['=total', 'their total (share in %)'],
    ...(dataset.kind === 'areas' ? [['=area', 'area in km² (geodesic)'] as const] : []),
  ]
  return (
    <Fragment key={layerId}>
      <FieldOf label="Field" dataset={dataset} value={field} onChange={(chosen) => chooseField(layerId, chosen)} />
      <FieldOf
        label="Divide by"
        dataset={dataset}
        value={normalise?.by === 'field' ? normalise.field : normalise ? `=${normalise.by}` : '='}
        others={divisors}
        without={field}
        onChange={(chosen) => chooseDivisor(layerId, divisorOf(chosen, normalise))}
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
      <FieldOf
        label="Weigh by"
        dataset={dataset}
        value={weight ?? '='}
        others={WEIGHTS}
        onChange={(key) => changeClassing(layerId, 'weight', (c) => void (c.weight = key === '=' ? null : key))}
      />
    </Fragment>
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
          disabled={method === 'manual' || classes <= limits.Limits.classes.least}
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
          disabled={method === 'manual' || classes >= limits.Limits.classes.most}
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
