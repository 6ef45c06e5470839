import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Layer, Lettering } from '../api/types'
import { Amount, Choice } from '../bench/Labelled'
import { ColourField } from '../draw/ColourField'
import { FieldOf } from '../draw/FieldOf'
import { RampPicker } from '../draw/RampPicker'
import { channelsOf } from '../draw/channels'
import { isNumeric } from '../fields'
import { symbolsOf } from '../sheet/looks'
import { stepsOf } from '../sheet/looks'
import { useInk } from '../sheet/queries'
import { type ReadDataset, rowsOf } from '../sheet/read'

/** The section of a key that is about labels. */
const LETTERS = 'letters'
/** In how many colours a ramp without classes is shown. */
const RAMP_STEPS = 7
type By = NonNullable<Lettering['colour']>['by']
const BY: readonly string[] = ['classes', 'value', 'category'] satisfies By[]

interface Props {
  layer: Layer
  dataset: ReadDataset
  lettering: Lettering
  onChange: (tag: string, values: Partial<Lettering>) => void
}

/** Labels in colours by a field of their own, whatever their symbols have. */
export function LetterColours({ layer, dataset, lettering, onChange }: Props) {
  const { colour } = lettering
  const symbols = symbolsOf(layer)
  const header = useInk(layer).data?.header
  const entries = header?.key.find(({ channel }) => channel === LETTERS)?.entries ?? []
  const steps = stepsOf(header, LETTERS)
  const varying = useMutation({
    mutationFn: async ({ by, field }: { by: string; field: string }) => {
      if (!symbols) return null
      const encodings = { colour: colour ?? null, size: null, angle: null, opacity: null, shares: null }
      const symbology = { ...symbols, encodings, rules: [], exceptions: {} }
      const body = { ...rowsOf(layer), symbology, channel: 'colour' as const, by, fields: [field] }
      return answered(client.POST('/api/draw/varied', { body }))
    },
    onSuccess: (look) => {
      const begun = look?.encodings.colour
      if (begun && (begun.by === 'classes' || begun.by === 'value' || begun.by === 'category'))
        onChange('colour-by', { colours: 'field', colour: begun })
    },
  })
  const set = (tag: string, values: object) =>
    colour && onChange(`colour-${tag}`, { colour: { ...colour, ...values } as Lettering['colour'] })
  const field = colour ? (colour.by === 'classes' ? colour.classing.field : colour.field) : ''
  const ways = channelsOf(dataset).find(({ channel }) => channel === 'colour')?.options ?? []
  const show = (name: string) => {
    const known = dataset.fields.find((each) => each.name === name)
    // What is calculated are numbers.
    varying.mutate({ by: known && !isNumeric(known) ? 'category' : 'classes', field: name })
  }
  return (
    <Box role="group" aria-label="Colours of labels">
      <FieldOf
        label="Field"
        dataset={dataset}
        any
        value={field}
        others={colour ? [] : [['', 'choose one']]}
        onChange={show}
      />
      {varying.error && (
        <Typography role="alert" variant="caption" sx={{ color: 'error.main' }}>
          {varying.error.message}
        </Typography>
      )}
      {colour && (
        <>
          <Choice
            label="Differ"
            value={colour.by as string}
            options={ways.filter(([by]) => BY.includes(by))}
            onChange={(by) => varying.mutate({ by, field })}
          />
          {colour.by === 'classes' && (
            <Amount
              label="Classes"
              value={colour.classing.breaks.length ? entries.length : colour.classing.classes}
              limits={limits.Classing.classes}
              from={2}
              to={9}
              step={1}
              onChange={(classes) => set('classes', { classing: { ...colour.classing, classes, breaks: [] } })}
            />
          )}
          {colour.by === 'category' && (
            <Box role="list" aria-label="Colours by category" sx={{ my: 0.5 }}>
              {colour.categories.map((category, i) => {
                const words = category.name || category.values.join(', ')
                const entry = steps[i]
                return (
                  <Box
                    role="listitem"
                    key={words}
                    sx={{ display: 'flex', alignItems: 'center', gap: 1, minHeight: 29 }}
                  >
                    <ColourField
                      label={`Colour of labels of ${words}`}
                      short
                      value={category.colour ?? entry?.mark?.fill ?? '#888888'}
                      onChange={(chosen) =>
                        set(`category-${i}`, {
                          categories: colour.categories.map((each, at) =>
                            at === i ? { ...each, colour: chosen } : each,
                          ),
                        })
                      }
                    />
                    <Typography variant="body2" noWrap sx={{ flex: 1, minWidth: 0 }}>
                      {words}
                    </Typography>
                    <Typography variant="caption" color="text.secondary">
                      {entry?.count?.toLocaleString('en') ?? ''}
                    </Typography>
                  </Box>
                )
              })}
            </Box>
          )}
          <RampPicker
            value={colour.ramp}
            classes={colour.by === 'value' ? RAMP_STEPS : Math.min(12, Math.max(2, entries.length))}
            colours={entries.flatMap(({ mark }) => (mark ? [mark.fill] : []))}
            onChange={(ramp) => ramp && set('ramp', { ramp, ...withoutOwn(colour) })}
          />
        </>
      )}
    </Box>
  )
}

/** A ramp that is chosen colours all categories, also those that had a colour of their own. */
function withoutOwn(colour: NonNullable<Lettering['colour']>) {
  return colour.by === 'category'
    ? { categories: colour.categories.map((each) => ({ ...each, colour: null })) }
    : undefined
}
