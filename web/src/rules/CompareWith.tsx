import { useMutation } from '@tanstack/react-query'
import MenuItem from '@mui/material/MenuItem'
import Select from '@mui/material/Select'
import { answered, client } from '../api/client'
import { useDatasets } from '../sheet/queries'

interface Props {
  /** The datasets that have a name already. */
  taken: Record<string, string>
  own: string
  onCompare: (name: string, dataset: string) => void
}

/** Another dataset of the library, whose shapes a condition is to name. */
export function CompareWith({ taken, own, onCompare }: Props) {
  const shaped = useDatasets().filter(({ id, kind }) => id !== own && kind !== 'raster' && kind !== 'table')
  const known = new Map(Object.entries(taken).map(([name, id]) => [id, name]))
  const name = useMutation({
    mutationFn: (dataset: string) =>
      answered(client.POST('/api/draw/other-name', { body: { dataset, taken: Object.keys(taken) } })),
    onSuccess: (name, dataset) => onCompare(name, dataset),
  })
  const pick = (id: string) => {
    const own = known.get(id)
    if (own) onCompare(own, id)
    else name.mutate(id)
  }
  if (shaped.length === 0) return null
  return (
    <Select
      value=""
      displayEmpty
      fullWidth
      renderValue={() => 'Compare with …'}
      inputProps={{ 'aria-label': 'Compare with another dataset' }}
      onChange={(e) => pick(e.target.value)}
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
