import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import type { Dataset, Heat, Layer } from '../api/types'
import { Check } from '../bench/Check'
import { Amount, Labelled } from '../bench/Labelled'
import { numericNames } from '../fields'
import { useSheet } from '../sheet/store'
import { FieldOf } from './FieldOf'
import { RampPicker } from './RampPicker'
import { ReadingControls } from './ReadingControls'

/** A heat surface: how far a point reaches, how heavy it is, and in which colours. */
export function HeatControls({ layer, heat, dataset }: { layer: Layer; heat: Heat; dataset: Dataset }) {
  const numeric = numericNames(dataset.fields)
  const change = (tag: string, values: Partial<Heat>) =>
    useSheet.getState().editLayer(layer.id, `heat-${tag}`, (draft) => void Object.assign(draft.symbology, values))
  return (
    <Box sx={{ display: 'flex', gap: 4 }}>
      <Box sx={{ flexShrink: 0 }}>
        <ReadingControls layer={layer} dataset={dataset} />
        <Amount
          label="Radius"
          value={heat.radius}
          limits={limits.Heat.radius}
          from={4}
          to={80}
          step={1}
          onChange={(radius) => change('radius', { radius })}
        />
        <Labelled label="Weighed">
          <Check
            label="by a field"
            checked={heat.weight != null}
            disabled={numeric.length === 0}
            onChange={(on) => change('weight', { weight: on ? (numeric[0] ?? null) : null })}
          />
        </Labelled>
        {heat.weight != null && (
          <FieldOf
            label="By"
            dataset={dataset}
            value={heat.weight}
            onChange={(weight) => change('weight', { weight })}
          />
        )}
      </Box>
      <RampPicker value={heat.ramp} classes={9} colours={[]} onChange={(ramp) => ramp && change('ramp', { ramp })} />
    </Box>
  )
}
