import type { Channel, Dataset, Encodings } from '../api/types'
import { numericNames } from '../fields'

export const STILL = 'still'
type Options = readonly (readonly [string, string])[]

/** What a channel is called, what it is when it does not vary, and by what it may vary on which kinds of shapes. A new kind of encoding is a line here and a
 * panel in `panels.ts`. */
interface Offered {
  channel: Channel
  label: string
  still: string
  kinds: readonly Dataset['kind'][]
  by: Options
}

const SHAPES = ['areas', 'lines', 'points'] as const
const OFFERED: readonly Offered[] = [
  {
    channel: 'colour',
    label: 'Colour',
    still: 'all alike',
    kinds: SHAPES,
    by: [
      ['classes', 'by class'],
      ['value', 'along a ramp'],
      ['category', 'by category'],
      ['two-way', 'by two fields at once'],
      ['largest', 'largest of several'],
    ],
  },
  {
    channel: 'size',
    label: 'Size',
    still: 'all alike',
    kinds: ['points', 'lines'],
    by: [
      ['classes', 'by class'],
      ['value', 'by value'],
    ],
  },
  { channel: 'shares', label: 'Shares', still: 'none', kinds: ['points'], by: [['shares', 'pies and rings']] },
  { channel: 'opacity', label: 'Faintness', still: 'none', kinds: SHAPES, by: [['value', 'by value']] },
  { channel: 'angle', label: 'Turn', still: 'none', kinds: ['points'], by: [['value', 'by a field of degrees']] },
]

/** The channels that such data have, with what each may vary by: numbers are needed for all but categories. */
export function channelsOf(dataset: Dataset): { channel: Channel; label: string; options: Options }[] {
  const numbers = numericNames(dataset.fields).length
  return OFFERED.filter(({ kinds }) => kinds.includes(dataset.kind)).flatMap(({ channel, label, still, by }) => {
    const possible = by.filter(([kind]) => {
      if (kind === 'category') return dataset.fields.length > 0
      return kind === 'two-way' || kind === 'largest' || kind === 'shares' ? numbers > 1 : numbers > 0
    })
    // Whatever the data are, what is chosen now can be seen and ended.
    return possible.length ? [{ channel, label, options: [[STILL, still] as const, ...possible] }] : []
  })
}

/** By what a channel varies now; `STILL` for not at all. */
export function variesBy(encodings: Encodings, channel: Channel): string {
  return encodings[channel]?.by ?? STILL
}
