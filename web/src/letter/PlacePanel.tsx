import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Dataset, Lettering } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled, LabelledCheck } from '../bench/Labelled'
import { withinOrNone } from '../bench/within'

type Side = Lettering['sides'][number]
/** The nine places of a square, read as a page; the middle is the point itself. */
const SQUARE: (Side | null)[] = [
  'above-left',
  'above',
  'above-right',
  'left',
  null,
  'right',
  'below-left',
  'below',
  'below-right',
]

interface Props {
  lettering: Lettering
  dataset: Dataset
  onChange: (tag: string, values: Partial<Lettering>) => void
}

/** Where labels may stand. */
export function PlacePanel({ lettering, dataset, onChange }: Props) {
  const [first] = lettering.lines
  return (
    <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
      {dataset.kind === 'points' && (
        <Sides sides={lettering.sides} onChange={(sides) => onChange('sides', { sides })} />
      )}
      {dataset.kind === 'lines' && (
        <>
          <Choice
            label="Along lines"
            value={lettering.course}
            options={[
              ['level', 'level, upon the middle'],
              ['turned', 'turned as the line runs'],
              ['curved', 'letter by letter'],
            ]}
            onChange={(course) => onChange('course', { course })}
          />
          {lettering.course !== 'level' && (
            <LabelledCheck
              label=""
              words="over the line"
              checked={lettering.beside}
              onChange={(beside) => onChange('beside', { beside })}
            />
          )}
        </>
      )}
      {dataset.kind === 'areas' && (
        <LabelledCheck
          label="Long areas"
          words="names along their spine"
          checked={lettering.course === 'curved'}
          onChange={(on) => onChange('course', { course: on ? 'curved' : 'level' })}
        />
      )}
      {dataset.kind === 'areas' && (
        <LabelledCheck
          label="Large areas"
          words="named in every part that is seen"
          checked={lettering.throughout}
          onChange={(throughout) => onChange('throughout', { throughout })}
        />
      )}
      {dataset.kind === 'areas' && (
        <LabelledCheck
          label="Small areas"
          words="only where it fits inside"
          checked={lettering.must_fit}
          onChange={(must_fit) => onChange('must-fit', { must_fit })}
        />
      )}
      {dataset.kind === 'areas' && lettering.must_fit && (
        <LabelledCheck
          label=""
          words="or beside it, with a leader"
          checked={lettering.outside}
          onChange={(outside) => onChange('outside', { outside })}
        />
      )}
      <Labelled label="Shrinks to">
        <EditableNumber
          label="Px that labels may shrink to where they find no room, 0 for not at all"
          value={lettering.smallest ?? 0}
          width={52}
          onChange={(value) =>
            onChange('smallest', { smallest: withinOrNone({ ...limits.Lettering.smallest, most: first?.size }, value) })
          }
        />
        <span style={{ fontSize: 12.5 }}>px; 0: not at all</span>
      </Labelled>
    </Box>
  )
}

/** The eight places around a point, numbered in the order in which they are tried; one that is pressed comes last, or goes. */
function Sides({ sides, onChange }: { sides: Side[]; onChange: (sides: Side[]) => void }) {
  const press = (side: Side) => {
    if (!sides.includes(side)) onChange([...sides, side])
    else if (sides.length > 1) onChange(sides.filter((each) => each !== side))
  }
  return (
    <Box sx={{ display: 'flex', gap: 3, alignItems: 'center', mb: 1.5 }}>
      <Box
        role="group"
        aria-label="Places around the point"
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, 40px)' }}
      >
        {SQUARE.map((side) =>
          side === null ? (
            <Box key="middle" aria-hidden sx={{ display: 'grid', placeItems: 'center', fontSize: 18 }}>
              •
            </Box>
          ) : (
            <Button
              key={side}
              aria-label={`${side.replace('-', ' ')}${sides.includes(side) ? `, place ${sides.indexOf(side) + 1}` : ''}`}
              aria-pressed={sides.includes(side)}
              onClick={() => press(side)}
              sx={{ minWidth: 40, height: 28, p: 0, border: 1, borderColor: 'line', borderRadius: 0, fontSize: 12.5 }}
            >
              {sides.includes(side) ? sides.indexOf(side) + 1 : ''}
            </Button>
          ),
        )}
      </Box>
      <Typography variant="caption" color="text.secondary" sx={{ maxWidth: 200 }}>
        Tried in this order. Press a place to take it out; press it again and it comes last.
      </Typography>
    </Box>
  )
}
