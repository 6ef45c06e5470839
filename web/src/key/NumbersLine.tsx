import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import type { InkHeader, Layer } from '../api/types'
import { counted } from '../wording'
import { editKey } from './editKey'
import { EditableText } from './EditableText'

interface Props {
  layer: Layer
  header: InkHeader
  chosen: boolean
}

/** In which unit the numbers of a key are, and with how many decimals they are said. */
export function NumbersLine({ layer, header, chosen }: Props) {
  const { unit, divisor } = header
  const numeric = chosen && header.key.some((section) => section.numeric)
  if (!unit && !divisor && !numeric) return null
  return (
    <Box sx={{ pl: 3.5, fontSize: 12, color: 'text.secondary', display: 'flex', alignItems: 'center', gap: 1 }}>
      <Box sx={{ flex: 1, minWidth: 0 }} title={unit || UNNAMED}>
        {(unit || divisor || chosen) && (
          <EditableText
            value={unit || (divisor ? `per ${divisor}?` : '')}
            placeholder="no unit"
            label={`Unit of ${layer.name}`}
            most={limits.KeyText.unit.most}
            locked={!chosen}
            sx={{ width: '100%' }}
            onChange={(text) =>
              editKey(layer.id, 'unit', (key) => {
                // Written for these numbers: other fields have other units.
                key.unit = text.trim()
                key.unit_of = header.numbers
              })
            }
          />
        )}
      </Box>
      {numeric && (
        <select
          aria-label={`Decimals in the key of ${layer.name}`}
          title="Decimals of the numbers in the key"
          value={layer.key.decimals ?? AS_NEEDED}
          onClick={(e) => e.stopPropagation()}
          onChange={(e) => {
            const { value } = e.target
            editKey(layer.id, 'decimals', (key) => void (key.decimals = value === AS_NEEDED ? null : Number(value)))
          }}
          style={{ font: 'inherit', color: 'inherit', background: 'none', border: 'none', height: 24 }}
        >
          <option value={AS_NEEDED}>decimals as needed</option>
          {Array.from({ length: limits.KeyText.decimals.most + 1 }, (_, decimals) => (
            <option key={decimals} value={decimals}>
              {decimals === 0 ? 'no decimals' : counted(decimals, 'decimal')}
            </option>
          ))}
        </select>
      )}
    </Box>
  )
}

const AS_NEEDED = 'as-needed'
const UNNAMED = 'Readers see no unit yet. Write what one is: t per ha, say.'
