import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { Check } from '../bench/Check'
import { EditableNumber } from '../bench/EditableNumber'
import { PlainSelect } from '../bench/PlainSelect'
import { withinOrNone } from '../bench/within'
import { Glyph } from '../Glyph'
import { isNumeric } from '../fields'
import { startingQuery } from '../sheet/queries'
import { useChosenLayer } from '../sheet/store'
import { begunFilter, begunSearch } from './begun'
import { type Asked, editReader, type Filter, fieldsOf, useAskedLayers, useReader } from './reader'

const LINE = { display: 'flex', alignItems: 'center', gap: 1.5, minHeight: 30 }

/** By what readers choose among features, and find them. */
export function FiltersPanel() {
  const reader = useReader()
  const asked = useAskedLayers()
  const chosen = useChosenLayer()
  const starting = useQuery(startingQuery).data
  if (!reader || !starting) return null
  const first = asked.find(({ layer }) => layer.id === chosen?.id) ?? asked[0]
  if (!first)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ p: 3 }}>
        Readers choose among areas, lines and points. Draw such a layer first.
      </Typography>
    )
  const most = limits.Reader.filters.most
  const add = async () => {
    const used = reader.filters.flatMap((each) => (each.layer === first.layer.id ? [each.field] : []))
    const filter = await begunFilter(first.layer, { taken: used })
    editReader('filter', (draft) => void draft.filters.push(filter))
  }
  const addSearch = async () => {
    const search = await begunSearch(first.layer)
    editReader('search', (draft) => void draft.search.push(search))
  }
  const searchIn = async (at: number, of: string) => {
    const layer = asked.find((each) => each.layer.id === of)?.layer
    const search = layer && (await begunSearch(layer))
    if (search) editReader('search', (draft) => void (draft.search[at] = search))
  }
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 340px', height: '100%', minHeight: 0 }}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        {reader.filters.length === 0 && (
          <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
            Readers see all features. With a filter they choose among them: numbers and dates between two ends, values
            from a list.
          </Typography>
        )}
        {reader.filters.map((filter, i) => (
          <FilterLine key={i} filter={filter} place={i} asked={asked} />
        ))}
        <Button variant="outlined" disabled={reader.filters.length >= most} onClick={() => void add()} sx={{ mt: 1 }}>
          Add a filter
        </Button>
      </Box>
      <Box sx={{ p: 2, pl: 3, borderLeft: 1, borderColor: 'line', overflow: 'auto' }}>
        <Check
          label="What the key lists is switched off and on, and counted"
          checked={reader.key_switches}
          onChange={(on) => editReader('switches', (draft) => void (draft.key_switches = on))}
        />
        <Typography variant="body2" color="text.secondary" sx={{ mt: 2 }}>
          Found by what is typed
        </Typography>
        {reader.search.map((search, i) => (
          <Box key={i} sx={LINE}>
            <LayerSelect
              asked={asked}
              value={search.layer}
              label={`Layer of search ${i + 1}`}
              onChange={(of) => void searchIn(i, of)}
            />
            <PlainSelect
              label={`Field of search ${i + 1}`}
              value={search.field}
              options={fieldsOf(asked, search.layer).map((field) => field.name)}
              onChange={(field) => editReader('search', (draft) => void (draft.search[i] = { ...search, field }))}
              sx={{ flex: 1, minWidth: 0 }}
            />
            <Remove
              what={`search ${i + 1}`}
              onClick={() => editReader('search', (draft) => void draft.search.splice(i, 1))}
            />
          </Box>
        ))}
        <Button
          variant="outlined"
          disabled={reader.search.length >= most}
          onClick={() => void addSearch()}
          sx={{ mt: 1 }}
        >
          Search a field
        </Button>
      </Box>
    </Box>
  )
}

const STEP = 'From one place of the slider to the next; 0: by the spread of the values'

function FilterLine({ filter, place, asked }: { filter: Filter; place: number; asked: Asked[] }) {
  const fields = fieldsOf(asked, filter.layer)
  const put = (next: Filter) => editReader(`filter-${place}`, (draft) => void (draft.filters[place] = next))
  const take = async (of: string, field?: string) => {
    const layer = asked.find((each) => each.layer.id === of)?.layer
    // Of another kind it has other parts: nothing but its words is taken along.
    if (layer) put({ ...(await begunFilter(layer, { field })), title: filter.title })
  }
  const at = `filter ${place + 1}`
  const chosen = fields.find(({ name }) => name === filter.field)
  return (
    <Box sx={LINE}>
      <Glyph name={filter.kind === 'range' ? 'range' : 'list'} />
      <LayerSelect asked={asked} value={filter.layer} label={`Layer of ${at}`} onChange={(layer) => void take(layer)} />
      <PlainSelect
        label={`Field of ${at}`}
        value={filter.field}
        options={
          fields.some(({ name }) => name === filter.field)
            ? fields.map(({ name }) => name)
            : [filter.field, ...fields.map(({ name }) => name)]
        }
        onChange={(field) => void take(filter.layer, field)}
        sx={{ width: 120 }}
      />
      <InputBase
        value={filter.title}
        placeholder={filter.field}
        onChange={(e) => put({ ...filter, title: e.target.value.slice(0, 200) })}
        inputProps={{ 'aria-label': `What readers see of ${at}` }}
        sx={{
          flex: 1,
          minWidth: 80,
          border: 1,
          borderColor: 'line',
          bgcolor: 'raised',
          px: 1,
          height: 26,
          fontSize: 13,
        }}
      />
      {filter.kind === 'range' && chosen && isNumeric(chosen) && (
        <label
          style={{ display: 'flex', alignItems: 'center', gap: 4, fontSize: 12.5, whiteSpace: 'nowrap' }}
          title={STEP}
        >
          step
          <EditableNumber
            label={`Step of ${at}, 0 for by the spread of its values`}
            value={filter.step ?? 0}
            width={64}
            onChange={(step) => put({ ...filter, step: withinOrNone(limits.RangeFilter.step, step) })}
          />
        </label>
      )}
      <Remove what={at} onClick={() => editReader('filter', (draft) => void draft.filters.splice(place, 1))} />
    </Box>
  )
}

/** A layer of shapes; one that is not there any more is still named. */
export function LayerSelect(props: {
  asked: Asked[]
  value: string
  label: string
  onChange: (layer: string) => void
}) {
  const { asked, value, label, onChange } = props
  const options = asked.map(({ layer }) => [layer.id, layer.name] as const)
  return (
    <PlainSelect
      label={label}
      value={value}
      options={options.some(([id]) => id === value) ? options : [[value, `${value} (gone)`] as const, ...options]}
      onChange={onChange}
      sx={{ width: 150 }}
    />
  )
}

function Remove({ what, onClick }: { what: string; onClick: () => void }) {
  return (
    <IconButton size="small" aria-label={`Remove ${what}`} title={`Remove ${what}`} onClick={onClick}>
      <Glyph name="remove" />
    </IconButton>
  )
}
