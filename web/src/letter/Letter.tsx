import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Lettering } from '../api/types'
import { LabelledCheck } from '../bench/Labelled'
import { NoLayer } from '../bench/NoLayer'
import { SideTabs } from '../bench/SideTabs'
import { startingQuery, useDataset } from '../sheet/queries'
import { asRead } from '../sheet/read'
import { useChosenLayer, useSheet } from '../sheet/store'
import { ContestFields } from './ContestFields'
import { DressPanel } from './DressPanel'
import { HandPanel } from './HandPanel'
import { LeftOut } from './LeftOut'
import { PlacePanel } from './PlacePanel'
import { TextPanel } from './TextPanel'
import { asField, firstField } from './template'

const PARTS = { text: 'Text', dress: 'Look', place: 'Place', contest: 'Room', hand: 'By hand' } as const

/** Names where they can be read. */
export function Letter() {
  const layer = useChosenLayer()
  const kept = useDataset(layer?.dataset)
  const starting = useQuery(startingQuery).data
  const editLayer = useSheet((s) => s.editLayer)
  const [part, setPart] = useState<keyof typeof PARTS>('text')
  if (!layer) return <NoLayer />
  const dataset = kept && asRead(kept, layer)
  if (!dataset || dataset.kind === 'raster')
    return (
      <NoLayer text="A raster has no names to letter. Choose a layer of areas, lines or points, or draw it as contours." />
    )
  const lettering = layer.lettering
  if (!lettering) {
    const first = beginning(
      dataset.lettering ?? null,
      dataset.fields.map(({ name }) => name),
    )
    return (
      <Box sx={{ p: 4 }}>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 2 }}>
          This layer has no labels.
        </Typography>
        <Button
          variant="outlined"
          disabled={!first}
          onClick={() => first && editLayer(layer.id, 'lettering', (draft) => void (draft.lettering = first))}
        >
          Letter it with '{firstField(first?.lines[0]?.text)}'
        </Button>
      </Box>
    )
  }
  const change = (tag: string, values: Partial<Lettering>) =>
    editLayer(layer.id, `lettering-${tag}`, (draft) => void (draft.lettering = { ...lettering, ...values }))
  const shared = { lettering, dataset, onChange: change }
  return (
    <SideTabs label="Letter" parts={PARTS} value={part} onChange={setPart}>
      {part === 'text' && <TextPanel layer={layer} {...shared} />}
      {part === 'dress' && starting && <DressPanel layer={layer} {...shared} begun={starting} />}
      {part === 'place' && <PlacePanel {...shared} />}
      {part === 'contest' && (
        <Box sx={{ display: 'grid', gridTemplateColumns: '286px minmax(0, 1fr)', gap: 3, p: 2, pl: 3, minHeight: 0 }}>
          <Box>
            <ContestFields {...shared} />
            {dataset.kind === 'points' && (
              <LabelledCheck
                label="Symbols"
                words="all labels keep off them"
                checked={layer.kept_clear}
                onChange={(on) => editLayer(layer.id, 'kept-clear', (draft) => void (draft.kept_clear = on))}
              />
            )}
          </Box>
          <LeftOut />
        </Box>
      )}
      {part === 'hand' && <HandPanel layer={layer} lettering={lettering} />}
      {part === 'text' && (
        <Box sx={{ px: 3, pb: 2 }}>
          <Button
            variant="outlined"
            onClick={() => editLayer(layer.id, 'lettering', (draft) => void (draft.lettering = null))}
          >
            Take the labels off
          </Button>
        </Box>
      )}
    </SideTabs>
  )
}

/** The first labels of a layer: those that the server suggests, of a field that the layer still has. */
function beginning(suggested: Lettering | null, fields: string[]): Lettering | null {
  const [line] = suggested?.lines ?? []
  const [field] = fields
  if (!suggested || !line || field === undefined) return null
  return fields.includes(firstField(line.text) ?? '')
    ? suggested
    : { ...suggested, lines: [{ ...line, text: asField(field) }] }
}
