import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { LabelLine, Layer, Lettering } from '../api/types'
import { Check } from '../bench/Check'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Labelled } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'
import { ColourField } from '../draw/ColourField'
import { useLetters } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { counted } from '../wording'
import { byHand, changeByHand } from './byHand'

interface Props {
  layer: Layer
  lettering: Lettering
}

/** What is done to single labels: they are dragged on the map, and turned, restyled, broken or hidden here. */
export function HandPanel({ layer, lettering }: Props) {
  const document = useSheet((s) => s.document)
  const level = useSheet((s) => s.level)
  const seen = useSheet((s) => s.seen)
  const fid = useSheet((s) => s.fid)
  const edit = useSheet((s) => s.editLayer)
  const { data } = useLetters(document, level, seen)
  const words = new Map((data?.labels ?? []).filter((l) => l.layer === layer.id).map((l) => [l.feature, l.text]))
  /** What a label says without any hand; empty where a field has nothing for it. */
  const plainly = (of: number) => data?.by_hand[layer.id]?.[of]
  const hands = lettering.by_hand
  const hand = byHand(hands, fid)
  const placed = fid !== null && words.has(fid)
  const [first] = lettering.lines
  return (
    <Box sx={{ p: 2, pl: 3, overflow: 'auto', display: 'grid', gridTemplateColumns: '290px minmax(0, 1fr)', gap: 4 }}>
      <Box role="group" aria-label="The chosen label">
        {fid === null || !first || (!placed && !hand) ? (
          <Typography variant="body2" color="text.secondary">
            Press a label on the map to change it alone, or drag it where it should stand.
          </Typography>
        ) : (
          <ChosenLabel
            key={fid}
            said={hand?.text ?? words.get(fid) ?? plainly(fid) ?? ''}
            hand={hand}
            line={first}
            onChange={(tag, values) => changeByHand(layer.id, fid, tag, values)}
          />
        )}
      </Box>
      <Box>
        <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
          <Typography variant="body2" color="text.secondary">
            {hands.length ? `${counted(hands.length, 'label')} changed by hand` : 'No label is changed by hand.'}
          </Typography>
          {hands.length > 0 && (
            <Button
              size="small"
              onClick={() =>
                edit(layer.id, 'by-hand-all', (draft) => {
                  if (draft.lettering) draft.lettering.by_hand = []
                })
              }
            >
              Put all back
            </Button>
          )}
        </Box>
        <Box component="ul" aria-label="Labels changed by hand" sx={{ m: 0, mt: 0.5, p: 0, listStyle: 'none' }}>
          {hands.map((each) => (
            <Box
              component="li"
              key={each.fid}
              sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline', fontSize: 12.5 }}
            >
              <Button
                size="small"
                onClick={() => useSheet.getState().choose(layer.id, each.fid)}
                sx={{ p: 0, minHeight: 24, justifyContent: 'flex-start', textAlign: 'left' }}
              >
                {each.text || plainly(each.fid) || `Row ${each.fid + 1}`}
              </Button>
              <span>{doneTo(each)}</span>
              <Button
                size="small"
                onClick={() => changeByHand(layer.id, each.fid, 'back', null)}
                sx={{ p: 0, minHeight: 24 }}
              >
                put back
              </Button>
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  )
}

type Hand = Lettering['by_hand'][number]

/** What is done to a label, in words. */
function doneTo(hand: Hand): string {
  const done = [
    hand.hidden && 'hidden',
    hand.at && 'moved',
    hand.turn !== 0 && 'turned',
    hand.size != null && 'resized',
    hand.colour != null && 'recoloured',
    hand.text != null && 'reworded',
    hand.leader && 'with a leader',
    hand.scales != null && 'at some scales',
  ].filter(Boolean)
  return done.join(', ')
}

/** From the closest to the farthest scale, each 0 for none; null for all. */
function scalesOf(closest: number, farthest: number): Hand['scales'] {
  const ends = {
    closest: withinOrNone(limits.Scales.closest, closest),
    farthest: withinOrNone(limits.Scales.farthest, farthest),
  }
  return ends.closest === null && ends.farthest === null ? null : ends
}

interface ChosenProps {
  said: string
  hand: Hand | null
  /** What it is set as unless by hand. */
  line: LabelLine
  onChange: (tag: string, values: Partial<Hand> | null) => void
}

function ChosenLabel({ said, hand, line, onChange }: ChosenProps) {
  return (
    <>
      <Labelled label="Says">
        <InputBase
          key={said}
          defaultValue={said}
          multiline
          maxRows={3}
          onBlur={(e) => {
            if (e.target.value !== said) onChange('text', { text: e.target.value || null })
          }}
          inputProps={{ 'aria-label': 'Text of this label, broken where it is', maxLength: limits.HandLabel.text.most }}
          sx={{ flex: 1, border: 1, borderColor: 'line', bgcolor: 'raised', px: 0.75, py: 0.25, fontSize: 12.5 }}
        />
      </Labelled>
      <Amount
        label="Turn"
        value={hand?.turn ?? 0}
        limits={limits.HandLabel.turn}
        from={-90}
        to={90}
        step={1}
        onChange={(turn) => onChange('turn', { turn })}
      />
      {hand?.at == null && (
        <Typography variant="caption" color="text.secondary" component="p">
          Labels are turned where they were put: drag it first.
        </Typography>
      )}
      <Labelled label="Size">
        <EditableNumber
          label="Size of this label, px"
          value={hand?.size ?? line.size}
          limits={limits.HandLabel.size}
          width={52}
          onChange={(size) => onChange('size', { size })}
        />
        <ColourField
          label="Colour of this label"
          value={hand?.colour ?? line.colour}
          onChange={(own) => onChange('colour', { colour: own })}
        />
      </Labelled>
      <Labelled label="">
        <Check label="leader" checked={hand?.leader ?? false} onChange={(leader) => onChange('leader', { leader })} />
        <Check label="hidden" checked={hand?.hidden ?? false} onChange={(hidden) => onChange('hidden', { hidden })} />
      </Labelled>
      <Labelled label="Only 1 :">
        <EditableNumber
          label="Scale closer than which this is not done to the label, 0 for none such"
          value={hand?.scales?.closest ?? 0}
          width={76}
          onChange={(value) => onChange('scales', { scales: scalesOf(value, hand?.scales?.farthest ?? 0) })}
        />
        <EditableNumber
          label="Scale farther than which this is not done to the label, 0 for none such"
          value={hand?.scales?.farthest ?? 0}
          width={76}
          onChange={(value) => onChange('scales', { scales: scalesOf(hand?.scales?.closest ?? 0, value) })}
        />
      </Labelled>
      <Labelled label="">
        <Button variant="outlined" disabled={!hand} onClick={() => onChange('back', null)}>
          Put it back
        </Button>
      </Labelled>
    </>
  )
}
