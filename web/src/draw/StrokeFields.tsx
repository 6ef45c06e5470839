import { useQuery } from '@tanstack/react-query'
import IconButton from '@mui/material/IconButton'
import * as limits from '../api/generated/limits'
import type { Stroke } from '../api/types'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { Glyph } from '../Glyph'
import { startingQuery } from '../sheet/queries'
import { ColourField } from './ColourField'

const CAPS = [
  ['round', 'round ends'],
  ['butt', 'cut ends'],
  ['square', 'square ends'],
] as const
/** Dashes that are none of those offered. */
const OWN = ' '

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
  const gestures = useQuery(startingQuery).data?.gestures
  const { width, dash } = stroke
  const offered = gestures?.dashes ?? []
  const thinnest = gestures?.thinnest ?? 0
  const scaled = (parts: readonly number[], by: number) => parts.map((part) => Number((part * by).toFixed(2)))
  const of = (parts: readonly number[]) => scaled(parts, Math.max(width, thinnest))
  const dashed = offered.find(({ parts }) => JSON.stringify(of(parts)) === JSON.stringify(dash))?.name ?? OWN
  const options = offered.map(({ name }): [string, string] => [name, name])
  return (
    <>
      {!narrow && (
        <Amount
          label={name}
          value={width}
          limits={limits.Stroke.width}
          to={12}
          step={0.1}
          onChange={(to) => {
            // Dashes are as long as the stroke is wide.
            const factor = width > 0 ? Math.max(to, thinnest) / Math.max(width, thinnest) : 1
            onChange('width', { width: to, dash: scaled(dash, factor) })
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
        options={dashed === OWN ? [...options, [OWN, 'of one’s own']] : options}
        onChange={(next) => {
          const parts = offered.find(({ name }) => name === next)?.parts
          if (parts) onChange('dash', { dash: of(parts) })
        }}
      />
      {dash.length > 0 && (
        <Choice label="Ends" value={stroke.cap} options={CAPS} onChange={(cap) => onChange('cap', { cap })} />
      )}
    </>
  )
}
