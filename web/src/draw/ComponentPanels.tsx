import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Dataset } from '../api/types'
import { Amount, Choice, Labelled, LabelledCheck } from '../bench/Labelled'
import { labelOf, numericNames } from '../fields'
import { seenColour } from '../classify/classing'
import { Glyph } from '../Glyph'
import { stepsOf, useLayerOfLook } from '../sheet/looks'
import { useInk } from '../sheet/queries'
import { ColourField } from './ColourField'
import { CALCULATED, Calculated } from './FieldOf'
import { NoData } from './NoData'
import type { EncodingBy, PanelProps } from './panels'

type Part = EncodingBy<'shares', 'shares'>['fields'][number]
const ADD = ''

/** Which of several fields is the largest. */
export function ComponentsPanel({ encoding, dataset, layer, onChange }: PanelProps<EncodingBy<'colour', 'largest'>>) {
  const header = useInk(useLayerOfLook(layer)).data?.header
  const colours = stepsOf(header, 'colour').map((entry) => seenColour(entry?.mark, dataset.kind) ?? '')
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 3 }}>
      <Components
        title="Largest of"
        dataset={dataset}
        parts={encoding.fields}
        colours={colours}
        onChange={(fields) => onChange('fields', { fields })}
      />
      <Box>
        <LabelledCheck
          label="Lead"
          words="shown as strength"
          checked={encoding.lead}
          onChange={(lead) => onChange('lead', { lead })}
        />
        {encoding.lead && (
          <Amount
            label="Faintest"
            value={encoding.faintest}
            limits={limits.ColourByLargest.faintest}
            step={0.01}
            onChange={(faintest) => onChange('faintest', { faintest })}
          />
        )}
        <Labelled label="Ties">
          <ColourField label="Colour of ties" value={encoding.tie} onChange={(tie) => onChange('tie', { tie })} />
        </Labelled>
        <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
      </Box>
    </Box>
  )
}

/** The wedges of pies and rings. */
export function SharesPanel({ encoding, dataset, layer, onChange }: PanelProps<EncodingBy<'shares', 'shares'>>) {
  const header = useInk(useLayerOfLook(layer)).data?.header
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 3 }}>
      <Components
        title="Shares of"
        dataset={dataset}
        parts={encoding.fields}
        colours={header?.wedges ?? []}
        onChange={(fields) => onChange('fields', { fields })}
      />
      <Box>
        <Amount
          label="Hole"
          value={encoding.hollow}
          limits={limits.Shares.hollow}
          to={0.9}
          step={0.01}
          onChange={(hollow) => onChange('hollow', { hollow })}
        />
        <Amount
          label="Other below"
          value={encoding.small}
          limits={limits.Shares.small}
          to={0.5}
          step={0.01}
          onChange={(small) => onChange('small', { small })}
        />
        {encoding.small > 0 && (
          <Labelled label="Other">
            <ColourField
              label="Colour of small shares"
              value={encoding.small_colour}
              onChange={(small_colour) => onChange('small-colour', { small_colour })}
            />
          </Labelled>
        )}
      </Box>
    </Box>
  )
}

interface ComponentsProps {
  title: string
  dataset: Dataset
  parts: Part[]
  /** As they are now, in the order of the parts. */
  colours: string[]
  onChange: (parts: Part[]) => void
}

function Components({ title, dataset, parts, colours, onChange }: ComponentsProps) {
  const rest = numericNames(dataset.fields).filter((name) => !parts.some((part) => part.field === name))
  const [draft, setDraft] = useState<string | null>(null)
  const add = (field: string) => {
    setDraft(null)
    onChange([...parts, { field, colour: null, name: '' }])
  }
  const change = (at: number, values: Partial<Part>) =>
    onChange(parts.map((part, i) => (i === at ? { ...part, ...values } : part)))
  return (
    <Box sx={{ width: 320 }}>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 0.5 }}>
        {title}
      </Typography>
      {parts.map((part, i) => (
        <Box key={part.field} sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 30 }}>
          <ColourField
            label={`Colour of ${part.field}`}
            value={part.colour ?? colours[i] ?? '#888888'}
            onChange={(colour) => change(i, { colour })}
          />
          <InputBase
            value={part.name}
            placeholder={labelOf(dataset.fields, part.field)}
            onChange={(e) => change(i, { name: e.target.value })}
            inputProps={{ 'aria-label': `Name of ${part.field}` }}
            sx={{ flex: 1, fontSize: 13 }}
          />
          <IconButton
            aria-label={`Take out ${part.field}`}
            disabled={parts.length <= 2}
            onClick={() => onChange(parts.filter((_, at) => at !== i))}
          >
            <Glyph name="minus" />
          </IconButton>
        </Box>
      ))}
      <Choice
        label="Add"
        value={draft === null ? ADD : CALCULATED}
        options={[
          [ADD, 'a field …'] as const,
          ...rest.map((name) => [name, labelOf(dataset.fields, name)] as const),
          [CALCULATED, 'calculated …'] as const,
        ]}
        onChange={(chosen) => {
          setDraft(chosen === CALCULATED ? '' : null)
          if (chosen !== ADD && chosen !== CALCULATED) add(chosen)
        }}
      />
      {draft !== null && (
        <Box sx={{ display: 'flex', alignItems: 'flex-end', gap: 1 }}>
          <Calculated label="Part, calculated" dataset={dataset} value={draft} onChange={setDraft} />
          <Button disabled={!draft || parts.some((part) => part.field === draft)} onClick={() => add(draft)}>
            Add it
          </Button>
        </Box>
      )}
    </Box>
  )
}
