import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import type { KeyEntry, Layer, RampKey as RampKeyShape } from '../api/types'
import { Glyph } from '../Glyph'
import { duplicateLayer } from '../sheet/layerActions'
import { fitTo } from '../sheet/MapView'
import { useDataset, useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { EditableText } from './EditableText'
import { Swatch } from './Swatch'

/** A layer in the key: its heading and entries as readers will read them. */
export function KeyLayer({ layer }: { layer: Layer }) {
  const chosen = useSheet((s) => s.layerId === layer.id)
  const { choose, editLayer, edit, show } = useSheet.getState()
  const dataset = useDataset(layer.dataset)
  const ink = useInk(layer)
  const sort = useSortable({ id: layer.id })
  const header = ink.data?.header
  const shown = layer.visible !== false
  const title = layer.key?.title ?? layer.name

  const setKey = (tag: string, change: (key: NonNullable<Layer['key']>) => void) =>
    editLayer(layer.id, tag, (draft) => {
      draft.key = { ...draft.key }
      change(draft.key)
    })
  const reword = (entry: KeyEntry, text: string) =>
    setKey(`entry-${entry.id}`, (key) => {
      key.entries = { ...key.entries }
      if (text.trim() === '' || text === entry.made_text) delete key.entries[entry.id]
      else key.entries[entry.id] = text
    })

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
          sx={{ cursor: 'grab', color: 'text.secondary', display: 'flex', touchAction: 'none' }}
        >
          <Glyph name="grip" sx={{ fontSize: 13 }} />
        </Box>
        <EditableText
          value={title}
          label={`Heading of ${layer.name}`}
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
      {layer.key?.shown === false && (
        <Typography variant="caption" color="text.secondary" sx={{ pl: 3.5, display: 'block' }}>
          not in the readers’ key
        </Typography>
      )}
      {header?.unit && (
        <Typography variant="caption" color="text.secondary" sx={{ pl: 3.5, display: 'block' }}>
          {header.unit}
        </Typography>
      )}
      {ink.error && (
        <Typography variant="caption" role="alert" sx={{ color: 'error.main', display: 'block', pl: 3.5 }}>
          {ink.error.message}
        </Typography>
      )}
      {header && (
        <Box sx={{ pl: 3.5, pt: 0.5, opacity: shown ? 1 : 0.55 }}>
          {header.ramp && <RampKey {...header.ramp} />}
          {header.key.map((entry) => (
            <Box
              key={entry.id}
              data-testid={`entry-${entry.id}`}
              sx={{ display: 'flex', alignItems: 'center', gap: 1.5, minHeight: 20, opacity: entry.hidden ? 0.45 : 1 }}
            >
              <ButtonBase
                aria-label={`Symbol of ${entry.text}`}
                onClick={(e) => {
                  e.stopPropagation()
                  choose(layer.id)
                  show('draw')
                }}
                sx={{ width: 30, justifyContent: 'center', flexShrink: 0 }}
              >
                <Swatch mark={entry.mark} kind={header.kind} />
              </ButtonBase>
              <EditableText
                value={entry.text}
                label={`Text of ${entry.made_text}`}
                locked={!chosen}
                onChange={(text) => reword(entry, text)}
              />
              {entry.count !== null && (
                <Typography variant="caption" color="text.secondary">
                  {entry.count.toLocaleString('en')}
                </Typography>
              )}
              <Tooltip title={entry.hidden ? 'Put into the key' : 'Leave out of the key'}>
                <IconButton
                  className="tools"
                  aria-label={`${entry.hidden ? 'Put' : 'Leave out'} ${entry.made_text}`}
                  onClick={() =>
                    setKey('hidden', (key) => {
                      const hidden = key.hidden ?? []
                      key.hidden = entry.hidden ? hidden.filter((id) => id !== entry.id) : [...hidden, entry.id]
                    })
                  }
                  sx={{ p: 0 }}
                >
                  <Glyph name={entry.hidden ? 'plus' : 'minus'} sx={{ fontSize: 13 }} />
                </IconButton>
              </Tooltip>
            </Box>
          ))}
        </Box>
      )}
      {chosen && (
        <Box className="tools" sx={{ display: 'flex', alignItems: 'center', pl: 3, pt: 1, gap: 0.5 }}>
          <Typography variant="caption" color="text.secondary" noWrap sx={{ flex: 1 }} title={dataset?.title}>
            {dataset ? `${dataset.title}` : 'its dataset is gone'}
            {layer.blend && layer.blend !== 'normal' ? ` · ${layer.blend}` : ''}
          </Typography>
          <Tooltip title={layer.key?.shown === false ? 'Put into the readers’ key' : 'Leave out of the readers’ key'}>
            <IconButton
              aria-label={`${layer.key?.shown === false ? 'Put' : 'Leave'} ${layer.name} ${layer.key?.shown === false ? 'into' : 'out of'} the readers’ key`}
              onClick={() => setKey('shown', (key) => void (key.shown = key.shown === false))}
            >
              <Glyph name={layer.key?.shown === false ? 'plus' : 'minus'} />
            </IconButton>
          </Tooltip>
          <Tooltip title="Show all of it">
            <IconButton
              aria-label={`Fit the map to ${layer.name}`}
              disabled={!dataset?.bounds}
              onClick={() => dataset?.bounds && fitTo(dataset.bounds)}
            >
              <Glyph name="fit" />
            </IconButton>
          </Tooltip>
          <Tooltip title="Duplicate to restyle (D)">
            <IconButton aria-label={`Duplicate ${layer.name}`} onClick={() => duplicateLayer(layer.id)}>
              <Glyph name="copy" />
            </IconButton>
          </Tooltip>
          <Tooltip title="Remove from the map; the data stay in the library">
            <IconButton
              aria-label={`Remove ${layer.name}`}
              onClick={(e) => {
                e.stopPropagation()
                edit('remove', (draft) => void (draft.layers = draft.layers?.filter((one) => one.id !== layer.id)))
                choose(null)
              }}
            >
              <Glyph name="remove" />
            </IconButton>
          </Tooltip>
        </Box>
      )}
    </Box>
  )
}

function RampKey({ colours, low, high }: RampKeyShape) {
  const text = (value: number) => value.toLocaleString('en', { maximumSignificantDigits: 4 })
  return (
    <Box sx={{ pr: 4, py: 0.5 }}>
      <Box style={{ background: `linear-gradient(to right, ${colours.join(',')})` }} sx={{ height: 10 }} />
      <Box sx={{ display: 'flex', justifyContent: 'space-between', fontSize: 12 }}>
        <span>{text(low)}</span>
        <span>{text(high)}</span>
      </Box>
    </Box>
  )
}
