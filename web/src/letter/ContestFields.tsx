import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import type { Dataset, Lettering } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'
import { isNumeric } from '../fields'
import { asField, firstField } from './template'

/** No field has such a name: they are trimmed. */
export const NOTHING = ' '
const OWN = { areas: 'larger areas', lines: 'longer lines', points: 'in their order' } as Record<string, string>

interface Props {
  lettering: Lettering
  dataset: Dataset
  onChange: (tag: string, values: Partial<Lettering>) => void
}

/** Who gets room where there is not enough of it. */
export function ContestFields({ lettering, dataset, onChange }: Props) {
  const numbers = dataset.fields.filter(isNumeric).map(({ name }) => [name, name] as const)
  const named = firstField(lettering.lines[0]?.text)
  const short = firstField(lettering.shorter ?? '')
  const others = dataset.fields.filter(({ name }) => name !== named).map(({ name }) => [name, name] as const)
  const scale = lettering.scales?.farthest ?? null
  return (
    <Box>
      <Choice
        label="First"
        value={lettering.first_by ?? NOTHING}
        options={[[NOTHING, OWN[dataset.kind] ?? 'in their order'], ...numbers]}
        onChange={(field) => onChange('first-by', { first_by: field === NOTHING ? null : field })}
      />
      <Choice
        label="Or shorter"
        value={short ?? NOTHING}
        options={[[NOTHING, 'nothing shorter'], ...others]}
        onChange={(field) => onChange('shorter', { shorter: field === NOTHING ? null : asField(field) })}
      />
      <Labelled label="Same name">
        <EditableNumber
          label="Px within which the same name stands once, 0 for as often as it comes"
          value={lettering.once_within ?? 0}
          width={52}
          onChange={(px) => onChange('once', { once_within: withinOrNone(limits.Lettering.once_within, px) })}
        />
        <span style={{ fontSize: 12.5 }}>px: only once within</span>
      </Labelled>
      <Labelled label="Layer">
        <EditableNumber
          label="Priority of the layer among all that are lettered, -10 to 10"
          value={lettering.priority}
          limits={limits.Lettering.priority}
          width={52}
          onChange={(priority) => onChange('priority', { priority })}
        />
        <span style={{ fontSize: 12.5 }}>more goes before others</span>
      </Labelled>
      <Labelled label="From 1 :">
        <EditableNumber
          label="Scale farther than which there are no labels, 0 for none such"
          value={scale ?? 0}
          width={84}
          onChange={(value) =>
            onChange('scales', {
              scales: value > 0 ? { closest: lettering.scales?.closest ?? null, farthest: value } : null,
            })
          }
        />
        <span style={{ fontSize: 12.5 }}>on; 0: always</span>
      </Labelled>
    </Box>
  )
}
