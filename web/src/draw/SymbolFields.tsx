import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import * as limits from '../api/generated/limits'
import type { Pattern, Starting, Stroke, SymbolShape } from '../api/types'
import { Check } from '../bench/Check'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { startingQuery } from '../sheet/queries'
import { ColourField } from './ColourField'
import { GroundField } from './GroundField'
import { ShapePicker } from './ShapePicker'
import { StrokeFields } from './StrokeFields'

const PATTERNS = [
  ['none', 'none'],
  ['hatch', 'hatch'],
  ['cross', 'cross'],
  ['dots', 'dots'],
] as const

interface Props {
  symbol: SymbolShape
  kind: string
  /** Colour and size vary, so that those of the symbol are not seen. */
  coloured: boolean
  /** Px of the largest, where sizes vary. */
  largest: number | null
  /** Sizes are those of the screen, whatever the scale. */
  inPx?: boolean
  onChange: (tag: string, values: Partial<SymbolShape>) => void
}

/** What one mark is: its fill, pattern, strokes; of points the shape. */
export function SymbolFields({ symbol, kind, coloured, largest, inPx = false, onChange }: Props) {
  const { data: starting } = useQuery(startingQuery)
  const { pattern, inner, strokes } = symbol
  const points = kind === 'points'
  const setPattern = (tag: string, values: Partial<Pattern>) =>
    pattern && onChange(`pattern-${tag}`, { pattern: { ...pattern, ...values } })
  const setStroke = (at: number, tag: string, values: Partial<Stroke>) =>
    onChange(`stroke-${at}-${tag}`, { strokes: strokes.map((each, i) => (i === at ? { ...each, ...values } : each)) })
  const top = strokes.length - 1
  const sized = largest !== null
  const size = largest ?? (points ? symbol.radius : (strokes[top]?.width ?? 0))
  return (
    <Box sx={{ mt: 1, pt: 0.5, borderTop: 1, borderColor: 'line' }}>
      {points && (
        <Labelled label="Shape">
          <ShapePicker
            label="Shape"
            value={symbol.shape}
            onChange={(shape) => onChange('shape', { shape, icon: null })}
            icon={symbol.icon ?? null}
            onIcon={(icon) =>
              onChange('icon', { icon, radius: Math.max(symbol.radius, (icon && starting?.gestures.icon) ?? 0) })
            }
          />
          {symbol.icon && (
            <Check
              label="in the features’ colours"
              checked={symbol.icon.stencil}
              onChange={(stencil) => symbol.icon && onChange('stencil', { icon: { ...symbol.icon, stencil } })}
            />
          )}
        </Labelled>
      )}
      {kind !== 'lines' && !coloured && (
        <Labelled label="Fill">
          <ColourField label="Fill" value={symbol.fill} onChange={(fill) => onChange('fill', { fill })} />
        </Labelled>
      )}
      {kind !== 'lines' && (
        <Amount
          label="Fill opacity"
          value={symbol.fill_opacity}
          limits={limits.Symbol.fill_opacity}
          step={0.01}
          onChange={(fill_opacity) => onChange('fill-opacity', { fill_opacity })}
        />
      )}
      {points && !sized && (
        <Amount
          label={symbol.ground == null ? 'Radius' : 'Radius in key'}
          value={symbol.radius}
          limits={limits.Symbol.radius}
          from={0.5}
          to={30}
          step={0.1}
          onChange={(radius) => onChange('radius', { radius })}
        />
      )}
      {points && !inPx && <GroundField {...{ symbol, size, sized }} of="Radius" onChange={onChange} />}
      {points && (symbol.icon || symbol.shape !== 'circle') && (
        <Amount
          label="Turned by"
          value={symbol.turn}
          limits={limits.Symbol.turn}
          from={-180}
          to={180}
          step={1}
          onChange={(turn) => onChange('turn', { turn })}
        />
      )}
      {kind !== 'lines' && (
        <Choice
          label="Pattern"
          value={pattern?.kind ?? 'none'}
          options={PATTERNS}
          onChange={(next) => {
            const begun = pattern ?? starting?.pattern ?? null
            onChange('pattern', { pattern: next === 'none' || !begun ? null : { ...begun, kind: next } })
          }}
        />
      )}
      {pattern && (
        <>
          <Labelled label="Of colour">
            <ColourField
              label="Pattern colour"
              value={pattern.colour}
              onChange={(colour) => setPattern('colour', { colour })}
            />
          </Labelled>
          <Amount
            label="Spacing"
            value={pattern.spacing}
            limits={limits.Pattern.spacing}
            to={30}
            step={0.5}
            onChange={(spacing) => setPattern('spacing', { spacing })}
          />
          <Amount
            label="Weight"
            value={pattern.width}
            limits={limits.Pattern.width}
            to={10}
            step={0.1}
            onChange={(width) => setPattern('width', { width })}
          />
          <Amount
            label="Angle"
            value={pattern.turn}
            limits={limits.Pattern.turn}
            step={1}
            onChange={(turn) => setPattern('turn', { turn })}
          />
        </>
      )}
      {strokes
        .map((stroke, i) => (
          <StrokeFields
            key={i}
            stroke={stroke}
            name={i === top ? 'Stroke' : `Stroke ${top - i + 1}`}
            narrow={kind === 'lines' && i === top && sized}
            plain={kind === 'lines' && i === top && coloured}
            onChange={(tag, values) => setStroke(i, tag, values)}
            onRemove={() => onChange('strokes', { strokes: strokes.filter((_, at) => at !== i) })}
          />
        ))
        .reverse()}
      {kind === 'lines' && strokes.length > 0 && (
        <GroundField {...{ symbol, size, sized }} of="Width" onChange={onChange} />
      )}
      <Box sx={{ display: 'flex', gap: 1, my: 0.5 }}>
        <Button
          size="small"
          variant="outlined"
          disabled={!starting || strokes.length >= limits.Symbol.strokes.most}
          onClick={() => starting && onChange('strokes', { strokes: [casing(strokes[0], starting), ...strokes] })}
        >
          {strokes.length ? 'Stroke below' : 'Stroke'}
        </Button>
        {kind === 'areas' && (
          <Check
            label="inner line"
            checked={inner != null}
            onChange={(on) => onChange('inner', { inner: on && starting ? starting.inner : null })}
          />
        )}
      </Box>
      {inner && (
        <StrokeFields
          stroke={inner}
          name="Inner line"
          onChange={(tag, values) => onChange(`inner-${tag}`, { inner: { ...inner, ...values } })}
          onRemove={() => onChange('inner', { inner: null })}
        />
      )}
    </Box>
  )
}

/** A stroke that stands out over the lowest there is: a casing. */
function casing(lowest: Stroke | undefined, { stroke, gestures: { casing, wider } }: Starting): Stroke {
  return lowest ? { ...lowest, colour: casing, width: lowest.width + wider, dash: [], opacity: 1 } : stroke
}
