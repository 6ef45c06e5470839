import { useQuery } from '@tanstack/react-query'
import * as limits from '../api/generated/limits'
import type { Effects } from '../api/types'
import { Amount, Labelled } from '../bench/Labelled'
import { Check } from '../bench/Check'
import { startingQuery } from '../sheet/queries'
import { ColourField } from './ColourField'

interface Props {
  effects: Effects
  onChange: (tag: string, effects: Partial<Effects>) => void
}

/** Shadow, glow and blur of a finished picture. */
export function EffectControls({ effects, onChange }: Props) {
  const { data: starting } = useQuery(startingQuery)
  const { shadow, glow, blur } = effects
  return (
    <>
      <Labelled label="Effects">
        <Check
          label="shadow"
          checked={shadow != null}
          onChange={(on) => onChange('shadow', { shadow: on ? (starting?.shadow ?? null) : null })}
        />
        <Check
          label="glow"
          checked={glow != null}
          onChange={(on) => onChange('glow', { glow: on ? (starting?.glow ?? null) : null })}
        />
        <Check label="blur" checked={blur > 0} onChange={(on) => onChange('blur', { blur: on ? 1.5 : 0 })} />
      </Labelled>
      {shadow && (
        <>
          <Labelled label="Shadow">
            <ColourField
              label="Shadow colour"
              value={shadow.colour}
              onChange={(colour) => onChange('shadow-colour', { shadow: { ...shadow, colour } })}
            />
          </Labelled>
          <Amount
            label="Right"
            value={shadow.right}
            limits={limits.Shadow.right}
            from={-12}
            to={12}
            step={0.5}
            onChange={(right) => onChange('shadow-right', { shadow: { ...shadow, right } })}
          />
          <Amount
            label="Down"
            value={shadow.down}
            limits={limits.Shadow.down}
            from={-12}
            to={12}
            step={0.5}
            onChange={(down) => onChange('shadow-down', { shadow: { ...shadow, down } })}
          />
          <Amount
            label="Softness"
            value={shadow.blur}
            limits={limits.Shadow.blur}
            to={12}
            step={0.25}
            onChange={(soft) => onChange('shadow-blur', { shadow: { ...shadow, blur: soft } })}
          />
          <Amount
            label="Shadow opacity"
            value={shadow.opacity}
            limits={limits.Shadow.opacity}
            step={0.05}
            onChange={(opacity) => onChange('shadow-opacity', { shadow: { ...shadow, opacity } })}
          />
        </>
      )}
      {glow && (
        <>
          <Labelled label="Glow">
            <ColourField
              label="Glow colour"
              value={glow.colour}
              onChange={(colour) => onChange('glow-colour', { glow: { ...glow, colour } })}
            />
          </Labelled>
          <Amount
            label="Glow width"
            value={glow.blur}
            limits={limits.Glow.blur}
            to={20}
            step={0.25}
            onChange={(wide) => onChange('glow-blur', { glow: { ...glow, blur: wide } })}
          />
          <Amount
            label="Glow opacity"
            value={glow.opacity}
            limits={limits.Glow.opacity}
            step={0.05}
            onChange={(opacity) => onChange('glow-opacity', { glow: { ...glow, opacity } })}
          />
        </>
      )}
      {blur > 0 && (
        <Amount
          label="Blur"
          value={blur}
          limits={limits.Effects.blur}
          to={12}
          step={0.25}
          onChange={(by) => onChange('blur', { blur: by })}
        />
      )}
    </>
  )
}

/** A share, whatever was typed. */
