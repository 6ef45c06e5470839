import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { useLayerOfLook } from '../sheet/looks'
import { useInk } from '../sheet/queries'
import { Check } from '../bench/Check'
import { FieldOf } from './FieldOf'
import { NoData } from './NoData'
import type { EncodingBy, PanelProps } from './panels'
import { RampPicker } from './RampPicker'

const CLASSES_SHOWN = 9

/** A colour along a ramp for each value: its ends, which clamp what lies beyond, and its middle. */
export function RampPanel({ encoding, dataset, layer, onChange }: PanelProps<EncodingBy<'colour', 'value'>>) {
  const header = useInk(useLayerOfLook(layer)).data?.header
  const ends = header?.key.findLast((section) => section.ramp.length > 0)?.ends ?? [0, 1]
  const [low = 0, high = 1] = [ends[0], ends.at(-1)]
  return (
    <Box>
      <FieldOf
        label="Field"
        dataset={dataset}
        value={encoding.field}
        onChange={(field) => onChange('field', { field, low: null, middle: null, high: null })}
      />
      <Labelled label="From, to">
        <EditableNumber
          label="Value at the low end"
          value={encoding.low ?? low}
          onChange={(to) => onChange('low', { low: to })}
        />
        <EditableNumber
          label="Value at the high end"
          value={encoding.high ?? high}
          onChange={(to) => onChange('high', { high: to })}
        />
      </Labelled>
      <Labelled label="Middle">
        <Check
          label="at"
          checked={encoding.middle != null}
          onChange={(on) => onChange('middle', { middle: on ? (low + high) / 2 : null })}
        />
        {encoding.middle != null && (
          <EditableNumber
            label="Value in the middle of the ramp"
            value={encoding.middle}
            onChange={(middle) => onChange('middle', { middle })}
          />
        )}
      </Labelled>
      <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
      <RampPicker
        value={encoding.ramp}
        classes={CLASSES_SHOWN}
        colours={[]}
        onChange={(ramp) => ramp && onChange('ramp', { ramp })}
      />
    </Box>
  )
}

/** A size that follows the value. */
export function ValueSizePanel({ encoding, dataset, inKey, onChange }: PanelProps<EncodingBy<'size', 'value'>>) {
  const lines = dataset.kind === 'lines'
  return (
    <Box>
      <FieldOf
        label="Size by"
        dataset={dataset}
        value={encoding.field}
        onChange={(field) => onChange('field', { field, greatest: null })}
      />
      <Choice
        label="Scaling"
        value={encoding.scaling}
        options={[
          ...(lines ? [['straight', 'in proportion'] as const] : []),
          ['area', 'true to area'] as const,
          ['flannery', 'perceived area (Flannery)'] as const,
        ]}
        onChange={(scaling) => onChange('scaling', { scaling })}
      />
      <Amount
        label={inKey ? 'Largest in key' : 'Largest'}
        value={encoding.largest}
        limits={limits.SizeByValue.largest}
        from={1}
        to={60}
        step={0.1}
        onChange={(largest) => onChange('largest', { largest })}
      />
      <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
    </Box>
  )
}

/** An opacity that rises with the value. */
export function OpacityPanel({ encoding, dataset, onChange }: PanelProps<EncodingBy<'opacity', 'value'>>) {
  return (
    <Box>
      <FieldOf
        label="Fainter by"
        dataset={dataset}
        value={encoding.field}
        onChange={(field) => onChange('field', { field, low: null, high: null })}
      />
      <Amount
        label="Faintest"
        value={encoding.faintest}
        limits={limits.OpacityByValue.faintest}
        step={0.01}
        onChange={(faintest) => onChange('faintest', { faintest })}
      />
    </Box>
  )
}

/** A turn by a field of degrees. */
export function AnglePanel({ encoding, dataset, onChange }: PanelProps<EncodingBy<'angle', 'value'>>) {
  return (
    <FieldOf
      label="Turned by"
      dataset={dataset}
      value={encoding.field}
      onChange={(field) => onChange('field', { field })}
    />
  )
}
