import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { classMarks, seenColour } from '../classify/classing'
import { Trials } from '../classify/Trials'
import { Amount } from '../bench/Labelled'
import { useLayerOfLook } from '../sheet/looks'
import { useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { NoData } from './NoData'
import type { EncodingBy, PanelProps } from './panels'
import { RampPicker } from './RampPicker'

/** A ramp for the colours of classes; which classes there are is said in Classify. */
export function ClassColourPanel({ encoding, layer, onChange }: PanelProps<EncodingBy<'colour', 'classes'>>) {
  const header = useInk(useLayerOfLook(layer)).data?.header
  const n = header?.classes.length ?? 5
  const colours = header ? classMarks(header).map((mark) => seenColour(mark, header.kind) ?? '#888888') : []
  return (
    <Box>
      <Classes words={`Colour by class of ${encoding.classing.field}`} />
      <Trials layer={layer} of="ramps" />
      <RampPicker
        value={encoding.ramp}
        classes={n}
        colours={colours}
        onChange={(ramp) => ramp && onChange('ramp', { ramp })}
      />
      <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
    </Box>
  )
}

/** The sizes of the lowest and the highest class. */
export function ClassSizePanel({ encoding, dataset, inKey, onChange }: PanelProps<EncodingBy<'size', 'classes'>>) {
  const most = dataset.kind === 'lines' ? 20 : 60
  return (
    <Box>
      <Classes words={`Size by class of ${encoding.classing.field}`} />
      <Amount
        label={inKey ? 'Smallest in key' : 'Smallest'}
        value={encoding.smallest}
        limits={limits.SizeByClasses.smallest}
        from={0.2}
        to={20}
        step={0.1}
        onChange={(smallest) => onChange('smallest', { smallest })}
      />
      <Amount
        label={inKey ? 'Largest in key' : 'Largest'}
        value={encoding.largest}
        limits={limits.SizeByClasses.largest}
        from={0.5}
        to={most}
        step={0.1}
        onChange={(largest) => onChange('largest', { largest })}
      />
      <NoData value={encoding.no_data ?? null} onChange={(no_data) => onChange('no-data', { no_data })} />
    </Box>
  )
}

function Classes({ words }: { words: string }) {
  const show = useSheet((s) => s.show)
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 0.5 }}>
      <Typography variant="body2" color="text.secondary" noWrap>
        {words}
      </Typography>
      <Button size="small" onClick={() => show('classify')}>
        Classes
      </Button>
    </Box>
  )
}
