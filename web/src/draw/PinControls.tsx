import { useQuery } from '@tanstack/react-query'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { KeyEntry, Layer, Pins } from '../api/types'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { movedTo, SortableList } from '../bench/SortableList'
import { Glyph } from '../Glyph'
import { Swatch } from '../key/Swatch'
import { firstField } from '../letter/template'
import { symbolsOf } from '../sheet/looks'
import { startingQuery, useDataset, useInk } from '../sheet/queries'
import { useChosenIn, useSheet } from '../sheet/store'
import { ColourField } from './ColourField'
import { ShapePicker } from './ShapePicker'

const SIGNS = [
  ['numbers', '1, 2, 3'],
  ['letters', 'A, B, C'],
] as const

/** Points that are numbered or lettered, in an order that is dragged. */
export function PinControls({ layer }: { layer: Layer }) {
  const { fid, also } = useChosenIn(layer.dataset)
  const { choose, editLayer } = useSheet.getState()
  const dataset = useDataset(layer.dataset)
  const begun = useQuery(startingQuery).data?.pins
  const header = useInk(layer).data?.header
  if (!begun || header?.kind !== 'points') return null
  const pins = symbolsOf(layer)?.pins ?? null
  const pinned = pins?.fids ?? []
  const entries = new Map(
    header.key.flatMap(({ channel, entries }) => (channel === 'pins' ? entries : [])).map((each) => [each.id, each]),
  )
  const free = (fid === null ? [] : [fid, ...also]).filter((each) => !pinned.includes(each))
  if (!pinned.length && !free.length) return null
  const set = (tag: string, values: Partial<Pins>) =>
    editLayer(layer.id, `pins-${tag}`, (draft) => {
      const symbols = symbolsOf(draft)
      if (!symbols) return
      const first = {
        ...begun,
        field: firstField((layer.lettering ?? dataset?.lettering)?.lines[0]?.text),
      }
      const next = { ...(symbols.pins ?? first), ...values }
      symbols.pins = next.fids.length ? next : null
    })
  const setSymbol = (tag: string, values: Partial<Pins['symbol']>) =>
    pins && set(tag, { symbol: { ...pins.symbol, ...values } })
  return (
    <Box role="group" aria-label="Pins" sx={{ mt: 1.5, pt: 1, borderTop: 1, borderColor: 'line' }}>
      <Typography variant="body2" color="text.secondary">
        Pins
      </Typography>
      <SortableList
        ids={pinned.map(String)}
        onMove={(moved, onto) => set('order', { fids: movedTo(pinned, Number(moved), Number(onto)) })}
      >
        {pinned.map((each) => (
          <PinLine
            key={each}
            fid={each}
            entry={entries.get(`pin ${each}`)}
            chosen={each === fid}
            onChoose={() => choose(layer.id, each)}
            onRemove={() => set('remove', { fids: pinned.filter((other) => other !== each) })}
          />
        ))}
      </SortableList>
      {free.length > 0 && (
        <Button size="small" variant="outlined" onClick={() => set('add', { fids: [...pinned, ...free] })}>
          {free.length === 1 ? 'Pin the chosen one' : `Pin the ${free.length} chosen`}
        </Button>
      )}
      {pins && (
        <>
          <Choice label="Signs" value={pins.signs} options={SIGNS} onChange={(signs) => set('signs', { signs })} />
          <Choice
            label="Named by"
            value={pins.field ?? ''}
            options={[['', 'their number'], ...(dataset?.fields ?? []).map(({ name }) => [name, name] as const)]}
            onChange={(field) => set('field', { field: field || null })}
          />
          <Labelled label="Shape">
            <ShapePicker
              label="Shape of pins"
              value={pins.symbol.shape}
              onChange={(shape) => setSymbol('shape', { shape })}
            />
          </Labelled>
          <Labelled label="Colour">
            <ColourField
              label="Colour of pins"
              value={pins.symbol.fill}
              onChange={(fill) => setSymbol('fill', { fill })}
            />
          </Labelled>
          <Labelled label="Of signs">
            <ColourField label="Colour of signs" value={pins.colour} onChange={(colour) => set('colour', { colour })} />
          </Labelled>
          <Amount
            label="Radius"
            value={pins.symbol.radius}
            limits={limits.Symbol.radius}
            from={5}
            to={24}
            step={0.5}
            onChange={(radius) => setSymbol('radius', { radius })}
          />
          <Button size="small" onClick={() => set('none', { fids: [] })}>
            No pins
          </Button>
        </>
      )}
    </Box>
  )
}

interface LineProps {
  fid: number
  /** What the key says of it; none for one that is not drawn. */
  entry: KeyEntry | undefined
  chosen: boolean
  onChoose: () => void
  onRemove: () => void
}

function PinLine({ fid, entry, chosen, onChoose, onRemove }: LineProps) {
  const sort = useSortable({ id: String(fid) })
  const name = entry?.text ?? `row ${fid + 1}, not drawn`
  return (
    <Box
      ref={sort.setNodeRef}
      style={{ transform: CSS.Translate.toString(sort.transform), transition: sort.transition }}
      sx={{ display: 'flex', alignItems: 'center', minHeight: 26, bgcolor: chosen ? 'raised' : 'transparent' }}
    >
      <Box
        {...sort.attributes}
        {...sort.listeners}
        aria-label={`Move ${name}`}
        sx={{ cursor: 'grab', display: 'flex', color: 'text.secondary', touchAction: 'none', p: 0.5 }}
      >
        <Glyph name="grip" sx={{ fontSize: 13 }} />
      </Box>
      {entry?.mark && <Swatch mark={entry.mark} kind="points" size={20} />}
      <Button size="small" onClick={onChoose} sx={{ flex: 1, minWidth: 0, justifyContent: 'flex-start', px: 0.75 }}>
        <Typography component="span" noWrap sx={{ fontSize: 13 }}>
          {name}
        </Typography>
      </Button>
      <IconButton aria-label={`Unpin ${name}`} onClick={onRemove} sx={{ p: 0.5 }}>
        <Glyph name="minus" />
      </IconButton>
    </Box>
  )
}
