import { memo, type ReactNode } from 'react'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { Blend, Dataset } from '../api/types'
import { Glyph } from '../Glyph'
import { groupWithBelow, leaveGroup, removeFrom } from '../sheet/groups'
import { duplicateLayer, fitToLayer } from '../sheet/layerActions'
import { useSheet } from '../sheet/store'
import { editKey } from './editKey'

interface Props {
  id: string
  name: string
  dataset: Dataset | null
  blend: Blend
  /** Whether readers have it in their key. */
  inKey: boolean
  grouped: boolean
  /** Whether its key is a ladder of classes, and which end of it comes first. */
  laddered: boolean
  lowFirst: boolean
  /** In how many columns its entries stand; 0 where it has none to part. */
  columns: number
  /** Whether circles of several sizes stand in one another; null where there are none. */
  nested: boolean | null
}

/** What is done with the chosen layer as a whole. */
export const LayerTools = memo(function LayerTools(props: Props) {
  const { id, name, dataset, blend, inKey, grouped, laddered, lowFirst, columns, nested } = props
  const { choose, edit } = useSheet.getState()
  const remove = () => {
    edit('remove', (draft) => removeFrom(draft, id))
    choose(null)
  }
  return (
    <Box className="tools" sx={{ display: 'flex', alignItems: 'center', pl: 3, pt: 1, gap: 0.5 }}>
      <Typography variant="caption" color="text.secondary" noWrap sx={{ flex: 1 }} title={dataset?.title}>
        {dataset ? dataset.title : 'its dataset is gone'}
        {blend === 'normal' ? '' : ` · ${blend}`}
      </Typography>
      <Tool
        title={inKey ? 'Leave out of the readers’ key' : 'Put into the readers’ key'}
        label={inKey ? `Leave ${name} out of the readers’ key` : `Put ${name} into the readers’ key`}
        glyph={<Glyph name={inKey ? 'minus' : 'plus'} />}
        onClick={() => editKey(id, 'shown', (key) => void (key.shown = !key.shown))}
      />
      {laddered && (
        <Tool
          title={lowFirst ? 'High classes first' : 'Low classes first'}
          label={`${lowFirst ? 'High' : 'Low'} classes of ${name} first`}
          glyph={<Glyph name="turn" />}
          onClick={() => editKey(id, 'ladder', (key) => void (key.low_first = !key.low_first))}
        />
      )}
      {nested !== null && (
        <Tool
          title={nested ? 'Circles one by one' : 'Circles in one another'}
          label={`Circles of ${name} ${nested ? 'one by one' : 'in one another'}`}
          glyph={<Glyph name="nested" />}
          onClick={() => editKey(id, 'nested', (key) => void (key.nested = !key.nested))}
        />
      )}
      {columns > 0 && (
        <Tool
          title={columns === 1 ? 'Entries in two columns' : 'Entries in one column'}
          label={`Entries of ${name} in ${columns === 1 ? 'two columns' : 'one column'}`}
          glyph={<Glyph name="columns" />}
          onClick={() => editKey(id, 'columns', (key) => void (key.columns = key.columns === 1 ? 2 : 1))}
        />
      )}
      <Tool
        title={grouped ? 'Take out of the group' : 'Group with the layer below (G)'}
        label={grouped ? `Take ${name} out of its group` : `Group ${name} with the layer below`}
        glyph={<Glyph name={grouped ? 'apart' : 'group'} />}
        onClick={() => (grouped ? leaveGroup(id) : groupWithBelow(id))}
      />
      <Tool
        title="Show all that is drawn of it"
        label={`Fit the map to ${name}`}
        glyph={<Glyph name="fit" />}
        disabled={!dataset?.bounds}
        onClick={() => void fitToLayer(id)}
      />
      <Tool
        title="Duplicate to restyle (D)"
        label={`Duplicate ${name}`}
        glyph={<Glyph name="copy" />}
        onClick={() => duplicateLayer(id)}
      />
      <Tool
        title="Remove from the map; the data stay in the library"
        label={`Remove ${name}`}
        glyph={<Glyph name="remove" />}
        onClick={remove}
      />
    </Box>
  )
})

function Tool(props: { title: string; label: string; glyph: ReactNode; disabled?: boolean; onClick: () => void }) {
  return (
    <Tooltip title={props.title}>
      <IconButton
        aria-label={props.label}
        disabled={props.disabled ?? false}
        onClick={(e) => {
          e.stopPropagation()
          props.onClick()
        }}
      >
        {props.glyph}
      </IconButton>
    </Tooltip>
  )
}
