import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import type { Dataset } from '../api/types'
import { useDatasets } from '../sheet/queries'
import { nameFor } from './nameFor'

interface Props {
  /** The datasets that have a name already. */
  taken: Record<string, string>
  own: string
  onCompare: (name: string, dataset: string) => void
}

/** Another dataset of the library, whose shapes a condition is to name. */
export function CompareWith({ taken, own, onCompare }: Props) {
  const shaped = useDatasets().filter(({ id, kind }) => id !== own && kind !== 'raster' && kind !== 'table')
  if (shaped.length === 0) return null
  const known = new Map(Object.entries(taken).map(([name, id]) => [id, name]))
  const pick = ({ id, title }: Dataset) => onCompare(known.get(id) ?? nameFor(title, Object.keys(taken)), id)
  return (
    <Select
      value=""
      displayEmpty
      fullWidth
      renderValue={() => 'Compare with …'}
      inputProps={{ 'aria-label': 'Compare with another dataset' }}
      onChange={(e) => {
        const picked = shaped.find(({ id }) => id === e.target.value)
        if (picked) pick(picked)
      }}
      sx={{ fontSize: 13, mt: 0.5 }}
    >
      {shaped.map(({ id, title }) => (
        <MenuItem key={id} value={id}>
          {title}
          {known.has(id) ? ` (${known.get(id)})` : ''}
        </MenuItem>
      ))}
    </Select>
  )
}
