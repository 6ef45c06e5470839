import { memo } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Classing, Dataset, Method } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { labelOf, numericNames } from '../fields'
import { inkQuery } from '../sheet/queries'
import { layerOf } from '../sheet/store'
import { breaksOf, changeClassing, chooseDivisor, chooseField, mostClasses, stepClasses } from './classing'
import { METHOD_WORDS } from './words'

const METHODS = Object.entries(METHOD_WORDS) as [Method, string][]

interface FieldProps {
  layerId: string
  dataset: Dataset
  field: string
  normalise: Classing['normalise'] | null
}

/** Which numbers are classed: a field, and what it is divided by. */
export const FieldChoice = memo(function FieldChoice({ layerId, dataset, field, normalise }: FieldProps) {
  const fields = numericNames(dataset.fields)
  const divisors = [
    ['=', 'nothing'],
    ...(dataset.kind === 'areas' ? [['=area', 'area in km² (geodesic)']] : []),
    ...fields.filter((f) => f !== field).map((f) => [f, labelOf(dataset.fields, f)]),
  ] as [string, string][]
  return (
    <>
      <Choice
        label="Field"
        value={field}
        options={fields.map((f) => [f, labelOf(dataset.fields, f)] as const)}
        onChange={(chosen) => chooseField(layerId, chosen)}
      />
      <Choice
        label="Divide by"
        value={normalise?.by === 'area' ? '=area' : normalise?.by === 'field' ? normalise.field : '='}
        options={divisors}
        onChange={(key) =>
          chooseDivisor(layerId, key === '=' ? null : key === '=area' ? { by: 'area' } : { by: 'field', field: key })
        }
      />
    </>
  )
})

/** How the classes are made, and how many of them. */
export const MethodControls = memo(function MethodControls(props: {
  layerId: string
  method: Method
  classes: number
}) {
  const { layerId, method, classes } = props
  const queries = useQueryClient()
  const choose = async (next: Method) => {
    // By hand begins with the breaks as they are, which may still be on their way.
    const ink = next === 'manual' ? await queries.ensureQueryData(inkQuery(layerOf(layerId))).catch(() => null) : null
    changeClassing(layerId, 'method', (c) => {
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
    </>
  )
})
