import type { Channel, Dataset, Encodings } from '../api/types'

export const STILL = 'still'
type Options = readonly (readonly [string, string])[]

/** What channels are called, and what they are when they do not vary. */
const CALLED: Record<Channel, { label: string; still: string }> = {
  colour: { label: 'Colour', still: 'all alike' },
  size: { label: 'Size', still: 'all alike' },
  shares: { label: 'Shares', still: 'none' },
  opacity: { label: 'Faintness', still: 'none' },
  angle: { label: 'Turn', still: 'none' },
}

/** By what they vary, in words; a channel may have its own. */
const BY: Record<string, string> = {
  classes: 'by class',
  value: 'by value',
  'colour value': 'along a ramp',
  'angle value': 'by a field of degrees',
  category: 'by category',
  'two-way': 'by two fields at once',
  largest: 'largest of several',
  shares: 'pies and rings',
}

/** The channels that such data have, with what each may vary by. Whatever the data are, what is chosen now can be seen and ended. */
export function channelsOf({ channels }: Pick<Dataset, 'channels'>) {
  return (Object.entries(channels) as [Channel, string[]][]).map(([channel, ways]) => {
    const { label, still } = CALLED[channel]
    const options: Options = [
      [STILL, still],
      ...ways.map((by) => [by, BY[`${channel} ${by}`] ?? BY[by] ?? by] as const),
    ]
    return { channel, label, options }
  })
}

/** By what a channel varies now; `STILL` for not at all. */
export function variesBy(encodings: Encodings, channel: Channel): string {
  return encodings[channel]?.by ?? STILL
}
