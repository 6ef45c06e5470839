import { useState } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, LabelLine, Layer, Lettering, Starting } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { withinOrNone } from '../bench/within'
import { ColourField } from '../draw/ColourField'
import { startingQuery } from '../sheet/queries'
import { rowsOf } from '../sheet/read'
import { amissIn, withField } from './template'

const COLUMNS = 'minmax(180px, 1fr) 128px 118px 26px 52px 30px 104px 52px 52px 24px'
const WEIGHTS = { 400: 'regular', 500: 'medium', 600: 'semibold', 700: 'bold' } as const
const FAMILIES = { sans: 'Sans', serif: 'Serif', narrow: 'Narrow' } as const
const CASES = ['as written', 'capitals', 'lower case', 'title'] as const

interface Props {
  layer: Layer
  lettering: Lettering
  dataset: Dataset
  onChange: (tag: string, values: Partial<Lettering>) => void
}

/** What labels say, line by line, and how each line is set. */
export function TextPanel({ layer, lettering, dataset, onChange }: Props) {
  const lines = lettering.lines
  const { data: starting } = useQuery(startingQuery)
  const fields = dataset.fields.map(({ name }) => name)
  const set = (at: number, tag: string, values: Partial<LabelLine>) =>
    onChange(`line-${at}-${tag}`, { lines: lines.map((line, i) => (i === at ? { ...line, ...values } : line)) })
  const another = useMutation({
    mutationFn: () =>
      answered(client.POST('/api/draw/line', { body: { ...rowsOf(layer), lettering, symbology: layer.symbology } })),
    onSuccess: (line) => onChange('lines', { lines: [...lines, line] }),
  })
  if (!starting) return null
  const { families } = starting
  return (
    <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
      <Box sx={{ display: 'grid', gridTemplateColumns: COLUMNS, gap: 0.75, alignItems: 'center', maxWidth: 980 }}>
        {['Says', 'Face', '', 'i', 'Size', '', 'Letters', 'Apart', 'Wrap', ''].map((head, i) => (
          <Typography key={i} variant="caption" color="text.secondary" component="span">
            {head}
          </Typography>
        ))}
        {lines.map((line, at) => (
          <LineFields
            key={at}
            at={at}
            line={line}
            fields={fields}
            families={families}
            onChange={(tag, values) => set(at, tag, values)}
            onRemove={
              lines.length > 1 ? () => onChange('lines', { lines: lines.filter((_, i) => i !== at) }) : undefined
            }
          />
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', mt: 1.5 }}>
        <Button
          variant="outlined"
          disabled={lines.length >= limits.Lettering.lines.most || another.isPending}
          onClick={() => another.mutate()}
        >
          Add a line
        </Button>
        {another.error && (
          <Typography role="alert" variant="body2" component="span" sx={{ color: 'error.main' }}>
            {another.error.message}
          </Typography>
        )}
        <Typography variant="body2" color="text.secondary" component="span">
          From line to line
        </Typography>
        <EditableNumber
          label="From line to line, in sizes of the type"
          value={lettering.leading}
          limits={limits.Lettering.leading}
          width={52}
          onChange={(leading) => onChange('leading', { leading })}
        />
        <Typography variant="body2" color="text.secondary" component="span">
          sizes
        </Typography>
      </Box>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ mt: 1 }}>
        Fields stand in braces; after a colon how their value is written: {'{carbon_t:,.0f}'}, {'{opened:%d %B %Y}'},{' '}
        {'{depth:unit}'}.
      </Typography>
    </Box>
  )
}

interface LineProps {
  at: number
  line: LabelLine
  fields: string[]
  families: Starting['families']
  onChange: (tag: string, values: Partial<LabelLine>) => void
  onRemove: (() => void) | undefined
}

function LineFields({ at, line, fields, families, onChange, onRemove }: LineProps) {
  const [draft, setDraft] = useState<string | null>(null)
  const n = at + 1
  const family = families[line.family]
  const amiss = amissIn(draft ?? line.text, fields)
  const keep = () => {
    // What can't be read is not kept: the map goes on showing what it did.
    if (draft !== null && !amiss) onChange('text', { text: draft })
    if (!amiss) setDraft(null)
  }
  return (
    <>
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          border: 1,
          borderColor: amiss ? 'error.main' : 'line',
          bgcolor: 'raised',
        }}
      >
        <InputBase
          value={draft ?? line.text}
          onChange={(e) => setDraft(e.target.value)}
          onBlur={keep}
          onKeyDown={(e) => {
            if (e.key === 'Enter') keep()
            if (e.key === 'Escape') setDraft(null)
          }}
          title={amiss}
          inputProps={{
            'aria-label': `Text of line ${n}`,
            'aria-invalid': amiss !== '',
            maxLength: limits.LabelLine.text.most,
          }}
          sx={{ flex: 1, px: 0.75, height: 24, fontSize: 12.5, '& input': { p: 0 } }}
        />
        <Select
          value=""
          displayEmpty
          renderValue={() => '{ }'}
          onChange={(e) => {
            const { value } = e.target
            if (value) onChange('text', { text: withField(draft ?? line.text, value) })
            setDraft(null)
          }}
          inputProps={{ 'aria-label': `Put a field into line ${n}` }}
          MenuProps={{ slotProps: { paper: { sx: { maxHeight: 360 } } } }}
          variant="standard"
          disableUnderline
          sx={{ fontSize: 12, width: 38 }}
        >
          {fields.map((name) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </Select>
      </Box>
      <Select
        value={line.family}
        onChange={(e) => {
          const name = e.target.value as LabelLine['family']
          const cuts = families[name]
          const weight = cuts?.nearest[line.weight]
          if (cuts && weight) onChange('family', { family: name, weight, italic: line.italic && cuts.slants })
        }}
        inputProps={{ 'aria-label': `Family of line ${n}` }}
      >
        {(Object.keys(FAMILIES) as (keyof typeof FAMILIES)[]).map((name) => (
          <MenuItem key={name} value={name} sx={{ fontFamily: `"${name}-400"` }}>
            {FAMILIES[name]}
          </MenuItem>
        ))}
      </Select>
      <Select
        value={line.weight}
        onChange={(e) => onChange('weight', { weight: Number(e.target.value) as LabelLine['weight'] })}
        inputProps={{ 'aria-label': `Weight of line ${n}` }}
      >
        {family?.weights.map((weight) => (
          <MenuItem key={weight} value={weight} sx={{ fontFamily: `"${line.family}-${weight}"` }}>
            {WEIGHTS[weight]}
          </MenuItem>
        ))}
      </Select>
      <Slant n={n} on={line.italic} disabled={!family?.slants} onChange={(italic) => onChange('italic', { italic })} />
      <EditableNumber
        label={`Size of line ${n}, px`}
        value={line.size}
        limits={limits.LabelLine.size}
        width={52}
        onChange={(size) => onChange('size', { size })}
      />
      <ColourField
        label={`Colour of line ${n}`}
        value={line.colour}
        short
        onChange={(colour) => onChange('colour', { colour })}
      />
      <Select
        value={line.case}
        onChange={(e) => onChange('case', { case: e.target.value as LabelLine['case'] })}
        inputProps={{ 'aria-label': `Letters of line ${n}` }}
      >
        {CASES.map((name) => (
          <MenuItem key={name} value={name}>
            {name}
          </MenuItem>
        ))}
      </Select>
      <EditableNumber
        label={`Space between the letters of line ${n}, in hundredths of the size`}
        value={Math.round(line.spacing * 100)}
        limits={{ least: 100 * limits.LabelLine.spacing.least, most: 100 * limits.LabelLine.spacing.most }}
        width={52}
        onChange={(value) => onChange('spacing', { spacing: value / 100 })}
      />
      <EditableNumber
        label={`Characters after which line ${n} is broken, 0 for never`}
        value={line.wrap ?? 0}
        width={52}
        onChange={(value) => onChange('wrap', { wrap: withinOrNone(limits.LabelLine.wrap, value) })}
      />
      {onRemove ? (
        <IconButton size="small" aria-label={`Remove line ${n}`} onClick={onRemove} sx={{ width: 24, height: 24 }}>
          ×
        </IconButton>
      ) : (
        <span />
      )}
    </>
  )
}

function Slant(props: { n: number; on: boolean; disabled: boolean; onChange: (on: boolean) => void }) {
  return (
    <Button
      aria-label={`Italics of line ${props.n}`}
      aria-pressed={props.on}
      disabled={props.disabled}
      onClick={() => props.onChange(!props.on)}
      variant={props.on ? 'contained' : 'outlined'}
      sx={{ minWidth: 26, width: 26, height: 26, p: 0, fontFamily: '"serif-400-italic"', fontSize: 15 }}
    >
      i
    </Button>
  )
}
