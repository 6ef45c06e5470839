import { useMemo } from 'react'
import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Dialog from '@mui/material/Dialog'
import TextField from '@mui/material/TextField'
import { chooseField, classingOf } from '../classify/classing'
import { STAGE_WORDS } from '../course/Course'
import { numericNames } from '../fields'
import { duplicateLayer } from '../sheet/layerActions'
import { useDatasets } from '../sheet/queries'
import { STAGES, useSheet } from '../sheet/store'
import { showField } from '../draw/varying'

interface Item {
  words: string
  group: string
  run: () => void
}

/** Type a few letters to reach a layer, a field or an action. */
export function Finder({ open, onClose }: { open: boolean; onClose: () => void }) {
  const layers = useSheet((s) => s.document?.layers)
  const layerId = useSheet((s) => s.layerId)
  const datasets = useDatasets()
  const items = useMemo<Item[]>(() => {
    const { choose, show, undo, redo } = useSheet.getState()
    const chosen = layers?.find((layer) => layer.id === layerId)
    const dataset = datasets.find((candidate) => candidate.id === chosen?.dataset)
    return [
      ...(layers ?? []).map((layer) => ({ words: layer.name, group: 'Layers', run: () => choose(layer.id) })),
      ...(chosen && dataset
        ? numericNames(dataset.fields).map((name) => ({
            words: `classify '${name}'`,
            group: `Fields of ${chosen.name}`,
            run: () => {
              if (classingOf(chosen)) chooseField(chosen.id, name)
              else void showField(chosen, name)
              show('classify')
            },
          }))
        : []),
      ...STAGES.map((stage) => ({ words: STAGE_WORDS[stage], group: 'Stages', run: () => show(stage) })),
      { words: 'Undo', group: 'Actions', run: undo },
      { words: 'Redo', group: 'Actions', run: redo },
      { words: 'Duplicate the layer', group: 'Actions', run: () => duplicateLayer(layerId) },
    ]
  }, [layers, layerId, datasets])
  return (
    <Dialog
      open={open}
      onClose={onClose}

      slotProps={{ paper: { 'aria-label': 'Find', sx: { width: 460, position: 'fixed', top: 80, m: 0 } } }}
    >
      <Autocomplete
        options={items}
        groupBy={(item) => item.group}
        getOptionLabel={(item) => item.words}
        autoHighlight
        openOnFocus
        disablePortal
        onClose={(_, reason) => reason === 'escape' && onClose()}
        renderGroup={({ key, group, children }) => (
          <li key={key} role="presentation">
            <Box sx={{ px: 3, pt: 1.5, fontSize: 12, color: 'text.secondary' }} aria-hidden>
              {group}
            </Box>
            <Box component="ul" role="group" aria-label={group} sx={{ p: 0, listStyle: 'none' }}>
              {children}
            </Box>
          </li>
        )}
        onChange={(_, item) => {
          onClose()
          item?.run()
        }}
        renderInput={(params) => <TextField {...params} autoFocus placeholder="A layer, a field or an action" />}
      />
    </Dialog>
  )
}
