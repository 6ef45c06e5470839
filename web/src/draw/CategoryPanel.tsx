import { useState } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Category } from '../api/types'
import { Check } from '../bench/Check'
import { Labelled } from '../bench/Labelled'
import { seenColour } from '../classify/classing'
import { stepsOf, useLayerOfLook } from '../sheet/looks'
import { startingQuery, useInk } from '../sheet/queries'
import { CategoryLine } from './CategoryLine'
import { ColourField } from './ColourField'
import { type RowsOf, rowsOf, rowsRead } from '../sheet/read'
import { FieldOf } from './FieldOf'
import { NoData } from './NoData'
import type { EncodingBy, PanelProps } from './panels'
import { RampPicker } from './RampPicker'
import { vary } from './varying'

const FOUND = 8

/** A look for each value: ordered, merged, named, left out; what no category takes is "other". */
export function CategoryPanel({ encoding, dataset, layer, onChange }: PanelProps<EncodingBy<'colour', 'category'>>) {
  const starting = useQuery(startingQuery).data
  const other = encoding.other ?? starting?.other
  const { categories, field } = encoding
  const drawn = useLayerOfLook(layer)
  const header = useInk(drawn).data?.header
  const entries = stepsOf(header, 'colour')
  const [chosen, setChosen] = useState<number[]>([])
  const set = (tag: string, next: Category[]) => onChange(tag, { categories: next })
  const parting = useMutation({
    mutationFn: () => answered(client.POST('/api/draw/categories/parted', { body: { ...rowsOf(drawn), encoding } })),
    onSuccess: (next) => set('parted', next.categories),
  })
  const change = (at: number, tag: string, values: Partial<Category>) =>
    set(
      `${tag}-${at}`,
      categories.map((each, i) => (i === at ? { ...each, ...values } : each)),
    )
  const merge = () => {
    const [first = 0] = chosen.toSorted((a, b) => a - b)
    const values = chosen.flatMap((at) => categories[at]?.values ?? [])
    set(
      'merge',
      categories.flatMap((each, i) => (i === first ? [{ ...each, values }] : chosen.includes(i) ? [] : [each])),
    )
    setChosen([])
  }
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 3 }}>
      <Box sx={{ flex: '1 1 250px', minWidth: 0, maxWidth: 400 }}>
        <FieldOf
          label="Field"
          dataset={dataset}
          any
          value={field}
          onChange={(name) => void vary(layer, 'colour', 'category', [name])}
        />
        <Box role="list" aria-label="Categories" sx={{ mt: 0.5 }}>
          {categories.map((category, i) => (
            <CategoryLine
              key={category.values.join('\u0000')}
              category={category}
              colour={category.colour ?? seenColour(entries[i]?.mark, dataset.kind) ?? '#888888'}
              count={entries[i]?.count ?? null}
              points={dataset.kind === 'points'}
              chosen={chosen.includes(i)}
              onChoose={(on) => setChosen(on ? [...chosen, i] : chosen.filter((at) => at !== i))}
              onChange={(tag, values) => change(i, tag, values)}
              onMove={(by) => set('order', moved(categories, i, by))}
              onRemove={() =>
                set(
                  'remove',
                  categories.filter((_, at) => at !== i),
                )
              }
            />
          ))}
        </Box>
        <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
          <Button variant="outlined" disabled={chosen.length < 2} onClick={merge}>
            Merge {chosen.length > 1 ? chosen.length : ''}
          </Button>
          {categories.length > 2 && (
            <Button
              title="The same colours, so that categories beside one another on the map look unlike"
              disabled={parting.isPending}
              onClick={() => parting.mutate()}
            >
              Part neighbours
            </Button>
          )}
        </Box>
        {parting.error && (
          <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
            {parting.error.message}
          </Typography>
        )}
        <AddCategory
          rows={rowsRead(dataset)}
          field={field}
          taken={categories}
          onAdd={(more) => set('add', [...categories, ...more])}
        />
      </Box>
      <Box sx={{ flex: '1 1 250px', minWidth: 0 }}>
        <Labelled label="All others">
          <ColourField
            label="Colour of all others"
            short
            value={other?.colour ?? ''}
            onChange={(colour) => other && onChange('other', { other: { ...other, colour } })}
          />
          <Check
            label="drawn"
            checked={encoding.other != null}
            onChange={(on) => onChange('other', { other: on ? starting?.other : null })}
          />
        </Labelled>
        <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
        <RampPicker
          value={encoding.ramp}
          classes={Math.max(2, Math.min(categories.length, 12))}
          colours={[]}
          onChange={(ramp) =>
            ramp && onChange('ramp', { ramp, categories: categories.map((each) => ({ ...each, colour: null })) })
          }
        />
      </Box>
    </Box>
  )
}

function moved(categories: Category[], at: number, by: -1 | 1): Category[] {
  const [own] = categories.slice(at, at + 1)
  const rest = categories.toSpliced(at, 1)
  return own ? rest.toSpliced(Math.max(0, at + by), 0, own) : categories
}

interface AddProps {
  rows: RowsOf
  field: string
  taken: Category[]
  onAdd: (categories: Category[]) => void
}

/** The values that have no category yet, found by a few letters. */
function AddCategory({ rows, field, taken, onAdd }: AddProps) {
  const [words, setWords] = useState('')
  const { data } = useQuery({
    queryKey: ['categories', rows, field],
    queryFn: () => answered(client.POST('/api/draw/categories', { body: { ...rows, field, most: 1000 } })),
    staleTime: 60_000,
    retry: false,
  })
  const known = new Set(taken.flatMap((category) => category.values))
  const free = (data ?? []).filter((category) => !category.values.every((value) => known.has(value)))
  const wanted = words.trim().toLowerCase()
  const matches = free.filter((category) => category.values.some((value) => value.toLowerCase().includes(wanted)))
  if (free.length === 0) return null
  return (
    <Box sx={{ border: 1, borderColor: 'line', p: 1 }}>
      <InputBase
        value={words}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter' || wanted === '' || matches[0] === undefined) return
          onAdd([matches[0]])
          setWords('')
        }}
        placeholder={`Find one of ${free.length} more values`}
        inputProps={{ 'aria-label': 'Find a value' }}
        sx={{ fontSize: 13, width: '100%' }}
      />
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
        {matches.slice(0, FOUND).map((category) => (
          <Button key={category.values[0]} size="small" onClick={() => onAdd([category])}>
            {category.values[0]}
          </Button>
        ))}
        {matches.length > 1 && (
          <Button size="small" variant="outlined" onClick={() => onAdd(matches)}>
            All {matches.length}
          </Button>
        )}
      </Box>
      {matches.length === 0 && (
        <Typography variant="caption" color="text.secondary">
          No value has these letters.
        </Typography>
      )}
    </Box>
  )
}
