import IconButton from '@mui/material/IconButton'
import type { Stroke } from '../api/types'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { Glyph } from '../Glyph'
import { ColourField } from './ColourField'

/** Dashes by name, in multiples of the stroke's width. */
const DASHES = [
  ['solid', 'solid', []],
  ['dashed', 'dashed', [4, 2.5]],
  ['long', 'long dashes', [8, 3]],
  ['dotted', 'dotted', [0, 2]],
  ['dash-dot', 'dash and dot', [6, 2.5, 0, 2.5]],
] as const
const CAPS = [
  ['round', 'round ends'],
  ['butt', 'cut ends'],
  ['square', 'square ends'],
] as const
type Dash = (typeof DASHES)[number][0] | 'own'

interface Props {
  stroke: Stroke
  name: string
  /** Its width, or its colour, is each feature's own. */
  narrow?: boolean
  plain?: boolean
  onChange: (tag: string, values: Partial<Stroke>) => void
  onRemove: () => void
}

/** Width, colour, opacity, dashes and ends of a stroke. */
export function StrokeFields({ stroke, name, narrow = false, plain = false, onChange, onRemove }: Props) {
  const { width, dash } = stroke
  const scaled = (parts: readonly number[]) => parts.map((part) => Number((part * Math.max(width, 0.5)).toFixed(2)))
  const known = DASHES.find(([, , parts]) => JSON.stringify(scaled(parts)) === JSON.stringify(dash))
  const dashed: Dash = known?.[0] ?? 'own'
  const options: (readonly [Dash, string])[] = DASHES.map(([key, words]) => [key, words] as const)
  return (
    <>
      {!narrow && (
        <Amount
          label={name}
          value={width}
          from={0}
          to={12}
          step={0.1}
          onChange={(to) => {
            // Dashes are as long as the stroke is wide.
            const factor = width > 0 ? Math.max(to, 0.5) / Math.max(width, 0.5) : 1
            onChange('width', { width: Math.max(0, to), dash: dash.map((part) => Number((part * factor).toFixed(2))) })
          }}
        />
      )}
      <Labelled label={narrow ? name : ''}>
        {!plain && (
          <ColourField
            label={`${name} colour`}
            value={stroke.colour}
            onChange={(colour) => onChange('colour', { colour })}
          />
        )}
        <IconButton aria-label={`Remove ${name.toLowerCase()}`} onClick={onRemove} sx={{ p: 0.25 }}>
          <Glyph name="minus" />
        </IconButton>
      </Labelled>
      <Choice
        label="Dashes"
        value={dashed}
        options={dashed === 'own' ? [...options, ['own', 'of one’s own'] as const] : options}
        onChange={(next) => {
          const parts = DASHES.find(([key]) => key === next)?.[2]
          if (parts) onChange('dash', { dash: scaled(parts) })
        }}
      />
      {dash.length > 0 && (
        <Choice label="Ends" value={stroke.cap} options={CAPS} onChange={(cap) => onChange('cap', { cap })} />
      )}
    </>
  )
}
