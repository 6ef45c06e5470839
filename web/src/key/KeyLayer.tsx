import { memo } from 'react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { InkHeader, KeySection, Layer } from '../api/types'
import { Glyph } from '../Glyph'
import { useDataset, useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { EditableText } from './EditableText'
import { KeySectionLines } from './KeySectionLines'
import { LayerTools } from './LayerTools'
import { NumbersLine } from './NumbersLine'

/** A layer in the key: its heading and entries as readers will read them. */
export const KeyLayer = memo(function KeyLayer({ layer }: { layer: Layer }) {
  const chosen = useSheet((s) => s.layerId === layer.id)
  const { choose, editLayer } = useSheet.getState()
  const dataset = useDataset(layer.dataset)
  const ink = useInk(layer)
  const sort = useSortable({ id: layer.id })
  const header = ink.data?.header
  const shown = layer.visible
  const title = layer.key.title ?? layer.name
  const entries = Math.max(0, ...(header?.key.map((section) => section.entries.length) ?? []))

  return (
    <Box
      ref={sort.setNodeRef}
      style={{ transform: CSS.Translate.toString(sort.transform), transition: sort.transition }}
      data-testid={`key-${layer.id}`}
      role="group"
      aria-label={`Layer ${layer.name}`}
      aria-current={chosen}
      tabIndex={chosen ? undefined : 0}
      onClick={() => !chosen && choose(layer.id)}
      onKeyDown={(e) => e.key === 'Enter' && e.target === e.currentTarget && choose(layer.id)}
      sx={{
        borderBottom: 1,
        borderColor: 'line',
        borderLeft: 3,
        borderLeftColor: chosen ? 'primary.main' : 'transparent',
        px: 1.5,
        pl: layer.group ? 2.5 : 1.5,
        py: 1.5,
        bgcolor: chosen ? 'raised' : 'transparent',
        opacity: sort.isDragging ? 0.6 : 1,
        position: 'relative',
        zIndex: sort.isDragging ? 3 : 0,
        '& .tools': { opacity: chosen ? 1 : 0 },
        '&:hover .tools, &:focus-within .tools': { opacity: 1 },
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, opacity: shown ? 1 : 0.55 }}>
        <Box
          {...sort.attributes}
          {...sort.listeners}
          aria-label={`Move ${layer.name}`}
          sx={{
            cursor: 'grab',
            color: 'text.secondary',
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
            width: 24,
            height: 24,
            ml: -1.5,
            touchAction: 'none',
          }}
        >
          <Glyph name="grip" sx={{ fontSize: 13 }} />
        </Box>
        <EditableText
          value={title}
          label={`Heading of ${layer.name}`}
          most={limits.Layer.name.most}
          locked={!chosen}
          onChange={(text) =>
            editLayer(layer.id, 'title', (draft) => {
              draft.name = text.trim() || draft.name
              draft.key = { ...draft.key, title: null }
            })
          }
          sx={{ fontWeight: 600, fontSize: 13.5 }}
        />
        <Tooltip title={shown ? 'Hide' : 'Show'}>
          <IconButton
            aria-label={`${shown ? 'Hide' : 'Show'} ${layer.name}`}
            onClick={(e) => {
              e.stopPropagation()
              editLayer(layer.id, 'visible', (draft) => void (draft.visible = !shown))
            }}
          >
            <Glyph name={shown ? 'shown' : 'hidden'} />
          </IconButton>
        </Tooltip>
      </Box>
      {!layer.key.shown && (
        <Typography variant="caption" color="text.secondary" sx={{ pl: 3.5, display: 'block' }}>
          not in the readers’ key
        </Typography>
      )}
      {header && <NumbersLine layer={layer} header={header} chosen={chosen} />}
      {layer.filter && (
        <Typography
          className="mono"
          noWrap
          title={layer.filter}
          sx={{ pl: 3.5, fontSize: 11.5, color: 'text.secondary', display: 'block' }}
        >
          {layer.filter}
        </Typography>
      )}
      {ink.error && (
        <Typography variant="caption" role="alert" sx={{ color: 'error.main', display: 'block', pl: 3.5 }}>
          {ink.error.message}
        </Typography>
      )}
      {header && (
        <Box sx={{ pl: 3.5, pt: 0.5, opacity: shown ? 1 : 0.55 }}>
          {header.key.map((section, i) => (
            <KeySectionLines
              key={i}
              section={section}
              classes={i === 0 ? header.classes : NO_CLASSES}
              columns={layer.key.columns}
              layerId={layer.id}
              kind={header.kind}
              locked={!chosen}
            />
          ))}
        </Box>
      )}
      {chosen && (
        <LayerTools
          id={layer.id}
          name={layer.name}
          dataset={dataset}
          blend={layer.blend}
          inKey={layer.key.shown}
          grouped={layer.group != null}
          laddered={(header?.classes.length ?? 0) > 1}
          lowFirst={layer.key.low_first}
          columns={entries > 3 ? layer.key.columns : 0}
          nested={header?.kind === 'points' && header.key.some(isOfSizes) ? layer.key.nested : null}
        />
      )}
    </Box>
  )
})

const isOfSizes = ({ channel, entries }: KeySection) => channel === 'size' && entries.length > 1
const NO_CLASSES: InkHeader['classes'] = []
