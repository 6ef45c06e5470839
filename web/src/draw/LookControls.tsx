import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Dataset, Layer } from '../api/types'
import { Choice } from '../bench/Labelled'
import { editLook, lookOf, useLayerOfLook } from '../sheet/looks'
import { useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { channelsOf, STILL, variesBy } from './channels'
import { asRead } from '../sheet/read'
import { ChannelPanels, variedIn } from './ChannelPanels'
import { ClusterControls } from './ClusterControls'
import { HeatControls } from './HeatControls'
import { ReadingControls } from './ReadingControls'
import { SymbolFields } from './SymbolFields'
import { vary } from './varying'

/** A look: what of it varies by what, and what its symbol is. */
export function LookControls({ layer, dataset: kept }: { layer: Layer; dataset: Dataset }) {
  const dataset = asRead(kept, layer)
  const ruleId = useSheet((s) => s.ruleId)
  const look = lookOf(layer, ruleId)
  const ink = useInk(useLayerOfLook(layer))
  const whole = useInk(layer).data?.header
  const empty = ruleId !== null && whole?.ruled[ruleId] === 0
  if (layer.symbology.kind === 'heat') return <HeatControls layer={layer} heat={layer.symbology} dataset={kept} />
  if (layer.symbology.kind === 'clusters')
    return <ClusterControls layer={layer} clusters={layer.symbology} dataset={kept} />
  if (!look) return null
  const { encodings } = look
  return (
    <Box sx={{ display: 'flex', gap: 4, minHeight: '100%' }}>
      <Box sx={{ flexShrink: 0 }}>
        <ReadingControls layer={layer} dataset={kept} />
        {channelsOf(dataset).map(({ channel, label, options }) => (
          <Choice
            key={channel}
            label={label}
            value={variesBy(encodings, channel)}
            options={options}
            onChange={(by) => void vary(layer, channel, by === STILL ? null : by)}
          />
        ))}
        <SymbolFields
          symbol={look.symbol}
          kind={dataset.kind}
          coloured={encodings.colour != null}
          largest={encodings.size?.largest ?? null}
          onChange={(tag, values) =>
            editLook(layer.id, `symbol-${tag}`, (draft) => void Object.assign(draft.symbol, values))
          }
        />
      </Box>
      <Box
        sx={{
          flex: 1,
          minWidth: 0,
          display: 'flex',
          flexDirection: 'column',
          gap: 2,
          // Parts of panels stand side by side where there is room, and are no wider than there is.
          '& > div > div': { minWidth: 0, maxWidth: '100%' },
        }}
      >
        {empty && (
          <Typography variant="body2" color="text.secondary">
            This rule takes no row yet: write its condition at the left.
          </Typography>
        )}
        {ink.error && !empty && (
          <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
            {ink.error.message}
          </Typography>
        )}
        <ChannelPanels layer={layer} dataset={dataset} encodings={encodings} inKey={look.symbol.ground != null} />
        {variedIn(encodings).length === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ maxWidth: 360, pt: 0.5 }}>
            Every feature looks alike. Let colour, size or another channel vary by what the data say, or add a rule for
            some of the rows.
          </Typography>
        )}
      </Box>
    </Box>
  )
}
