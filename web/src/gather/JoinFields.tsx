import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Dataset, Field, JoinIn } from '../api/types'
import { Choice } from '../bench/Labelled'
import { isNumeric } from '../fields'

type Summary = NonNullable<JoinIn['summarise']>[string]
type Pair = NonNullable<JoinIn['more_keys']>[number]

const WAYS: readonly Summary[] = ['sum', 'mean', 'median', 'minimum', 'maximum', 'first', 'count']

/** The fields, each summed up as it is where nobody has said how. */
export function summedUp(table: Dataset, fields: readonly string[]): Record<string, Summary> {
  return Object.fromEntries(
    table.fields.filter(({ name }) => fields.includes(name)).map((field) => [field.name, field.summed]),
  )
}

interface TakenProps {
  table: Dataset
  join: JoinIn
  onChange: (values: Partial<JoinIn>) => void
}

/** Which fields come along, and of several rows how each is summed up. */
export function TakenAlong({ table, join, onChange }: TakenProps) {
  const summed = Object.keys(join.summarise).length > 0
  const fields = table.fields.filter(({ name }) => join.by === 'place' || name !== join.table_key)
  const toggle = (field: Field, on: boolean) => {
    const names = on ? [...join.fields, field.name] : join.fields.filter((name) => name !== field.name)
    const ways = Object.entries(join.summarise).filter(([name]) => names.includes(name))
    const added: [string, Summary][] = on && summed ? [[field.name, field.summed]] : []
    if (names.length > 0) onChange({ fields: names, summarise: Object.fromEntries([...ways, ...added]) })
  }
  return (
    <Box role="group" aria-label="Fields that come along">
      <Typography variant="body2" color="text.secondary">
        taking along
      </Typography>
      {fields.map((field) => (
        <Box key={field.name} sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 26 }}>
          <label style={{ fontSize: 12.5, flex: 1, minWidth: 0 }}>
            <input
              type="checkbox"
              checked={join.fields.includes(field.name)}
              onChange={(e) => toggle(field, e.target.checked)}
            />{' '}
            {field.name}
          </label>
          {summed && join.fields.includes(field.name) && (
            <select
              aria-label={`How ${field.name} is summed up`}
              value={join.summarise?.[field.name]}
              onChange={(e) => onChange({ summarise: { ...join.summarise, [field.name]: e.target.value as Summary } })}
              style={{ font: 'inherit', fontSize: 12.5, height: 24 }}
            >
              {WAYS.filter((way) => isNumeric(field) || !['sum', 'mean', 'median'].includes(way)).map((way) => (
                <option key={way} value={way}>
                  {way}
                </option>
              ))}
            </select>
          )}
        </Box>
      ))}
    </Box>
  )
}

interface MoreKeysProps {
  pair: Pair
  areas: Dataset
  table: Dataset
  /** Null takes it out. */
  onChange: (pair: Pair | null) => void
}

/** One more pair of fields that have to agree. */
export function MoreKeys({ pair, areas, table, onChange }: MoreKeysProps) {
  const keys = (dataset: Dataset) => dataset.fields.map((f) => [f.name, f.name] as const)
  return (
    <>
      <Choice
        label="and of these"
        value={pair.area_key}
        options={keys(areas)}
        onChange={(area_key) => onChange({ ...pair, area_key })}
      />
      <Choice
        label="and of those"
        value={pair.table_key}
        options={keys(table)}
        onChange={(table_key) => onChange({ ...pair, table_key })}
      />
      <Button size="small" onClick={() => onChange(null)}>
        Without it
      </Button>
    </>
  )
}
