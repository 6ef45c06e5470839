import { lazy, Suspense } from 'react'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Blend, Layer } from '../api/types'
import { Amount, Choice } from '../bench/Labelled'
import { rowsFiltered } from '../sheet/read'
import { symbolsOf } from '../sheet/looks'
import { useSheet } from '../sheet/store'
import { EffectControls } from './EffectControls'
import { changeRules, nameDataset } from './rules'
import { ScaleFields } from './ScaleFields'
import { ExceptionControls } from './ExceptionControls'
import { PinControls } from './PinControls'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))

const BLENDS: Blend[] = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'hue',
  'saturation',
  'color',
  'luminosity',
]

const PART = { mt: 1.5, pt: 1, borderTop: 1, borderColor: 'line' }

/** How the layer, or the group that it is in, lies on what is below. */
export function LayerControls({ layer, rows }: { layer: Layer; rows: boolean }) {
  const { edit, editLayer } = useSheet.getState()
  const ruleId = useSheet((s) => s.ruleId)
  const rule = symbolsOf(layer)?.rules.find((each) => each.id === ruleId)
  const group = useSheet((s) => s.document?.groups.find((each) => each.id === layer.group))
  return (
    <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, overflow: 'auto' }}>
      <Composing part={layer} change={(tag, change) => editLayer(layer.id, tag, (draft) => change(draft))} />
      {rule && (
        <Box sx={PART} role="group" aria-label={`Scales of ${rule.name}`}>
          <Typography variant="body2" color="text.secondary">
            Rule “{rule.name}”
          </Typography>
          <ScaleFields
            of={rule.name}
            scales={rule.scales}
            onChange={(scales) =>
              changeRules(layer.id, `scales-${rule.id}`, (all) =>
                all.map((each) => (each.id === rule.id ? { ...each, scales } : each)),
              )
            }
          />
        </Box>
      )}
      {group && (
        <Box sx={PART} role="group" aria-label={`Group ${group.name}`}>
          <Typography variant="body2" color="text.secondary">
            Group “{group.name}”
          </Typography>
          <Composing
            part={group}
            change={(tag, change) =>
              edit(`${tag}:${group.id}`, (draft) => {
                const own = draft.groups.find((each) => each.id === group.id)
                if (own) change(own)
              })
            }
          />
        </Box>
      )}
      {rows && <ExceptionControls layer={layer} />}
      {rows && <PinControls layer={layer} />}
      {rows && (
        <Box sx={{ mt: 1 }}>
          <Typography variant="body2" color="text.secondary" sx={{ mb: 0.5 }}>
            Only rows where
          </Typography>
          <Suspense fallback={<Box sx={{ height: 100 }} />}>
            <ConditionEditor
              key={layer.id}
              rows={rowsFiltered(layer)}
              value={layer.filter}
              label="Filter"
              onChange={(filter) => editLayer(layer.id, 'filter', (draft) => void (draft.filter = filter))}
              onCompare={(name, id) => nameDataset(layer.id, name, id)}
            />
          </Suspense>
        </Box>
      )}
    </Box>
  )
}

type Composed = Pick<Layer, 'name' | 'blend' | 'opacity' | 'effects' | 'scales'>

interface ComposingProps {
  part: Composed
  change: (tag: string, change: (draft: Composed) => void) => void
}

/** Blend, opacity, scales and effects of a layer or a group. */
function Composing({ part, change }: ComposingProps) {
  return (
    <>
      <Choice
        label="Blend"
        value={part.blend}
        options={BLENDS.map((blend) => [blend, blend.replace('-', ' ')] as const)}
        onChange={(blend) => change('blend', (draft) => void (draft.blend = blend))}
      />
      <Amount
        label="Opacity"
        value={part.opacity}
        limits={limits.Layer.opacity}
        step={0.01}
        onChange={(value) => change('opacity', (draft) => void (draft.opacity = value))}
      />
      <ScaleFields
        of={part.name}
        scales={part.scales}
        onChange={(scales) => change('scales', (draft) => void (draft.scales = scales))}
      />
      <EffectControls
        effects={part.effects}
        onChange={(tag, effects) =>
          change(`effects-${tag}`, (draft) => void (draft.effects = { ...draft.effects, ...effects }))
        }
      />
    </>
  )
}
