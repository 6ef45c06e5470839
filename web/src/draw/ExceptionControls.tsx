import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Departure, Layer } from '../api/types'
import { Amount, Labelled, LabelledCheck } from '../bench/Labelled'
import { EditableText } from '../key/EditableText'
import { symbolsOf } from '../sheet/looks'
import { drawsRows } from '../sheet/read'
import { startingQuery, useInk } from '../sheet/queries'
import { useChosenIn, useSheet } from '../sheet/store'
import { counted } from '../wording'
import { ColourField } from './ColourField'

/** How the chosen feature departs from the others, and the way back to normal, one by one or all at once. */
export function ExceptionControls({ layer }: { layer: Layer }) {
  const { fid } = useChosenIn(layer.dataset)
  const { choose, editLayer } = useSheet.getState()
  const { data: starting } = useQuery(startingQuery)
  const symbols = symbolsOf(layer)
  const kind = useInk(layer).data?.header.kind
  if (!symbols || !starting || !drawsRows(layer)) return null
  const { departure: begun, gestures } = starting
  const { exceptions } = symbols
  const others = Object.keys(exceptions).map(Number)
  if (fid === null && others.length === 0) return null
  const own = fid === null ? undefined : exceptions[fid]
  const set = (tag: string, change: (all: Record<string, Departure>) => void) =>
    editLayer(layer.id, `exception-${tag}`, (draft) => {
      const all = symbolsOf(draft)?.exceptions
      if (all) change(all)
    })
  const depart = (tag: string, values: Partial<Departure>) =>
    fid !== null && set(`${tag}-${fid}`, (all) => void (all[fid] = { ...begun, ...all[fid], ...values }))
  const colour = (label: string, key: 'fill' | 'stroke', give: string) => (
    <Labelled label={label}>
      {own?.[key] == null ? (
        <Button size="small" onClick={() => depart(key, { [key]: gestures.departing })}>
          {give}
        </Button>
      ) : (
        <ColourField
          label={`${label} of the chosen feature`}
          value={own[key]}
          onChange={(value) => depart(key, { [key]: value })}
        />
      )}
    </Labelled>
  )
  return (
    <Box role="group" aria-label="Single features" sx={{ mt: 1.5, pt: 1, borderTop: 1, borderColor: 'line' }}>
      {fid !== null && (
        <>
          <Typography variant="body2" color="text.secondary">
            The chosen feature, row {fid + 1}
          </Typography>
          {colour('Its colour', 'fill', 'Give it a colour')}
          {kind !== 'lines' && colour('Its edge', 'stroke', 'Give it an edge')}
          {kind === 'points' && (
            <Amount
              label="Its radius"
              value={own?.radius ?? symbols.symbol.radius}
              limits={limits.Departure.radius}
              from={1}
              to={40}
              step={0.5}
              onChange={(radius) => depart('radius', { radius })}
            />
          )}
          <Amount
            label="Its opacity"
            value={own?.opacity ?? symbols.symbol.fill_opacity}
            limits={limits.Departure.opacity}
            step={0.01}
            onChange={(opacity) => depart('opacity', { opacity })}
          />
          <Labelled label="In the key">
            <EditableText
              label="What the key says of the chosen feature"
              most={limits.Departure.name.most}
              value={own?.name ?? ''}
              onChange={(name) => depart('name', { name })}
              sx={{ border: 1, borderColor: 'line', px: 0.75 }}
            />
          </Labelled>
          <LabelledCheck
            label="Drawn"
            words="left out"
            checked={own?.left_out ?? false}
            onChange={(left_out) => depart('left-out', { left_out })}
          />
          {own && (
            <Button size="small" onClick={() => set('back', (all) => void delete all[fid])}>
              Back to normal
            </Button>
          )}
        </>
      )}
      {others.length > 0 && (
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 0.5 }}>
          <Typography variant="caption" color="text.secondary">
            {counted(others.length, 'feature')} {others.length === 1 ? 'differs' : 'differ'}:
          </Typography>
          {others.slice(0, 12).map((other) => (
            <Button key={other} size="small" onClick={() => choose(layer.id, other)} sx={{ minWidth: 0, px: 0.5 }}>
              row {other + 1}
            </Button>
          ))}
          <Button
            size="small"
            variant="outlined"
            onClick={() => set('all-back', (all) => others.forEach((other) => delete all[other]))}
          >
            All back to normal
          </Button>
        </Box>
      )}
    </Box>
  )
}
