import { memo } from 'react'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { KeyEntry } from '../api/types'
import { Glyph } from '../Glyph'
import { useSheet } from '../sheet/store'
import { EditableText } from './EditableText'
import { editKey, reword } from './editKey'
import { Swatch } from './Swatch'

/** A line of the key: its symbol leads to Draw, its text is reworded in place. */
export const EntryLine = memo(function EntryLine({
  layerId,
  entry,
  kind,
  locked,
  place,
  wide,
  narrow,
  order,
}: {
  layerId: string
  entry: KeyEntry
  kind: string
  locked: boolean
  /** Where it stands in the key. */
  place: string
  /** Px that the samples of its section take; 0: they are drawn elsewhere. */
  wide: number
  /** Whether it stands in one of two columns: its text has all the room until it is pointed at. */
  narrow: boolean
  /** The ids of the entries of its section as they stand now. */
  order: string[]
}) {
  const { choose, show } = useSheet.getState()
  const hide = () =>
    editKey(layerId, 'hidden', (key) => {
      const hidden = key.hidden
      key.hidden = entry.hidden ? hidden.filter((id) => id !== entry.id) : [...hidden, entry.id]
    })
  const at = order.indexOf(entry.id)
  const move = (by: -1 | 1) =>
    editKey(layerId, 'order', (key) => {
      const to = order.toSpliced(at, 1).toSpliced(at + by, 0, entry.id)
      key.order = [...key.order.filter((id) => !to.includes(id)), ...to]
    })
  return (
    <Box
      data-testid={`entry-${place}`}
      onKeyDown={(e) => {
        const by = e.key === 'ArrowUp' ? -1 : 1
        if (!e.altKey || !e.shiftKey || (e.key !== 'ArrowUp' && e.key !== 'ArrowDown')) return
        e.preventDefault()
        e.stopPropagation()
        if (at + by >= 0 && at + by < order.length) move(by)
      }}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        minHeight: 20,
        opacity: entry.hidden ? 0.45 : 1,
        position: 'relative',
        '&:hover:not(:has(input:focus)) > .aside, &:has(.aside :focus-visible) > .aside': { opacity: 1 },
      }}
    >
      {wide > 0 && (
        <ButtonBase
          aria-label={`Symbol of ${entry.text}`}
          onClick={(e) => {
            e.stopPropagation()
            choose(layerId)
            show('draw')
          }}
          sx={{ width: wide, justifyContent: 'center', flexShrink: 0 }}
        >
          <Swatch mark={entry.mark} kind={kind} />
        </ButtonBase>
      )}
      <EditableText
        value={entry.text}
        label={`Text of ${entry.made_text}`}
        locked={locked}
        onChange={(text) => reword(layerId, entry, text)}
      />
      <Box className="aside" sx={narrow ? OVER : BESIDE}>
        {entry.count !== null && (
          <Typography variant="caption" color="text.secondary">
            {entry.count.toLocaleString('en')}
          </Typography>
        )}
        {order.length > 1 && wide > 0 && (
          <Tooltip title={at === 0 ? 'Down (Alt+Shift+↓)' : 'Up (Alt+Shift+↑)'}>
            <IconButton
              className="tools"
              aria-label={`Move ${entry.made_text} ${at === 0 ? 'down' : 'up'}`}
              onClick={() => move(at === 0 ? 1 : -1)}
              sx={{ p: 0 }}
            >
              <Glyph name={at === 0 ? 'down' : 'up'} sx={{ fontSize: 13 }} />
            </IconButton>
          </Tooltip>
        )}
        <Tooltip title={entry.hidden ? 'Put into the key' : 'Leave out of the key'}>
          <IconButton
            className="tools"
            aria-label={`${entry.hidden ? 'Put' : 'Leave out'} ${entry.made_text}`}
            onClick={hide}
            sx={{ p: 0 }}
          >
            <Glyph name={entry.hidden ? 'plus' : 'minus'} sx={{ fontSize: 13 }} />
          </IconButton>
        </Tooltip>
      </Box>
    </Box>
  )
})

const BESIDE = { display: 'flex', alignItems: 'center', gap: 1.5 }
const OVER = { ...BESIDE, position: 'absolute', right: 0, pl: 1, bgcolor: 'raised', opacity: 0 }
