import { useState } from 'react'
import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import type { Layer, Lettering } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Choice, Labelled, LabelledCheck } from '../bench/Labelled'
import { ColourField } from '../draw/ColourField'
import type { ReadDataset } from '../sheet/read'
import { LetterColours } from './LetterColours'

type Frame = NonNullable<Lettering['frame']>
type Shadow = NonNullable<Lettering['shadow']>
const BARE = 'none'

interface Props {
  layer: Layer
  dataset: ReadDataset
  lettering: Lettering
  /** What plates and shadows begin as. */
  begun: { frame: Frame; label_shadow: Shadow }
  onChange: (tag: string, values: Partial<Lettering>) => void
}

/** What surrounds labels, and in what colour they stand out from what lies below. */
export function DressPanel({ layer, dataset, lettering, begun, onChange }: Props) {
  const { frame, shadow } = lettering
  // By a field asks for the field first; until there is one, labels stay as they are.
  const [asking, ask] = useState(false)
  const byField = lettering.colours === 'field' || asking
  const setFrame = (tag: string, values: Partial<Frame>) =>
    onChange(`frame-${tag}`, { frame: { ...begun.frame, ...frame, ...values } })
  const setShadow = (tag: string, values: Partial<Shadow>) =>
    onChange(`shadow-${tag}`, { shadow: { ...begun.label_shadow, ...shadow, ...values } })
  return (
    <Box
      sx={{
        p: 2,
        pl: 3,
        overflow: 'auto',
        display: 'grid',
        gridTemplateColumns: `repeat(2, 286px)${byField ? ' minmax(0, 1fr)' : ''}`,
        gap: 3,
      }}
    >
      <Box>
        <Amount
          label="Halo"
          value={lettering.halo}
          limits={limits.Lettering.halo}
          to={6}
          step={0.1}
          onChange={(halo) => onChange('halo', { halo })}
        />
        <Labelled label="Halo colour">
          <ColourField
            label="Colour of the halo"
            value={lettering.halo_colour}
            onChange={(halo_colour) => onChange('halo-colour', { halo_colour })}
          />
        </Labelled>
        <Amount
          label="Opacity"
          value={lettering.opacity}
          limits={limits.Lettering.opacity}
          from={0.1}
          step={0.05}
          onChange={(opacity) => onChange('opacity', { opacity })}
        />
        <Choice
          label="Colours"
          value={byField ? 'field' : lettering.colours}
          options={[
            ['own', 'as the lines say'],
            ['symbol', "as the layer's symbols"],
            ['field', 'by a field'],
            ['below', 'by what lies below'],
          ]}
          onChange={(colours) => {
            ask(colours === 'field')
            if (colours !== 'field' || lettering.colour) onChange('colours', { colours })
          }}
        />
      </Box>
      <Box>
        <Choice
          label="Plate"
          value={frame?.shape ?? BARE}
          options={[
            [BARE, 'none'],
            ['box', 'box'],
            ['rounded', 'rounded box'],
            ['pill', 'shield: pill'],
            ['hexagon', 'shield: hexagon'],
            ['pennant', 'shield: pennant'],
          ]}
          onChange={(shape) => (shape === BARE ? onChange('frame', { frame: null }) : setFrame('shape', { shape }))}
        />
        {frame && (
          <Labelled label="">
            <ColourField
              label="Colour of the plate"
              value={frame.fill}
              short
              onChange={(fill) => setFrame('fill', { fill })}
            />
            <ColourField
              label="Outline of the plate"
              value={frame.outline}
              short
              onChange={(outline) => setFrame('outline', { outline })}
            />
            <EditableNumber
              label="Px of the plate's outline"
              value={frame.width}
              limits={limits.Frame.width}
              width={44}
              onChange={(width) => setFrame('width', { width })}
            />
            <EditableNumber
              label="Px between the text and the plate's outline"
              value={frame.room}
              limits={limits.Frame.room}
              width={44}
              onChange={(room) => setFrame('room', { room })}
            />
          </Labelled>
        )}
        <LabelledCheck
          label="Shadow"
          words="cast a shadow"
          checked={shadow != null}
          onChange={(on) => onChange('shadow', { shadow: on ? begun.label_shadow : null })}
        />
        {shadow && (
          <Labelled label="">
            <ColourField
              label="Colour of the shadow"
              value={shadow.colour}
              short
              onChange={(colour) => setShadow('colour', { colour })}
            />
            <EditableNumber
              label="Px of the shadow to the right"
              value={shadow.right}
              limits={limits.Shadow.right}
              width={40}
              onChange={(right) => setShadow('right', { right })}
            />
            <EditableNumber
              label="Px of the shadow down"
              value={shadow.down}
              limits={limits.Shadow.down}
              width={40}
              onChange={(down) => setShadow('down', { down })}
            />
            <EditableNumber
              label="Px by which the shadow is blurred"
              value={shadow.blur}
              limits={limits.Shadow.blur}
              width={40}
              onChange={(blur) => setShadow('blur', { blur })}
            />
          </Labelled>
        )}
      </Box>
      {byField && <LetterColours layer={layer} dataset={dataset} lettering={lettering} onChange={onChange} />}
    </Box>
  )
}
