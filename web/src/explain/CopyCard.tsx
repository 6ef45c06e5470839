import Box from '@mui/material/Box'
import type { Layer } from '../api/types'
import { useSheet } from '../sheet/store'

const ALL = ' '

/** The same template for another layer, or for all that have cards. */
export function CopyCard({ from }: { from: Layer }) {
  const layers = useSheet((s) => s.document?.layers) ?? []
  const edit = useSheet((s) => s.edit)
  const others = layers.filter(({ id, symbology }) => id !== from.id && symbology.kind === 'symbols')
  if (!others.length) return null
  const copy = (chosen: string) => {
    const wanted = new Set(others.filter(({ id }) => chosen === ALL || id === chosen).map(({ id }) => id))
    // One press is one undo.
    edit(`card-from-${from.id}`, (draft) => {
      for (const layer of draft.layers) if (wanted.has(layer.id)) layer.card = from.card
    })
  }
  return (
    <Box
      component="select"
      aria-label="Copy the card to another layer"
      value=""
      onChange={(e: React.ChangeEvent<HTMLSelectElement>) => copy(e.target.value)}
      sx={{ fontSize: 12.5, height: 24, bgcolor: 'raised', color: 'text.primary', border: 1, borderColor: 'line' }}
    >
      <option value="">Copy it to …</option>
      {others.map(({ id, name }) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
      {others.length > 1 && <option value={ALL}>all of these</option>}
    </Box>
  )
}
