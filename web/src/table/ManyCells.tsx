import { lazy, Suspense, useState } from 'react'
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset, ManyCells as Asked, ManyView } from '../api/types'
import { Check } from '../bench/Check'
import { Choice, Labelled } from '../bench/Labelled'
import { rowsRead } from '../sheet/read'
import { counted } from '../wording'
import { cellText } from './cellText'
import { TableDialog } from './TableDialog'
import { useTakeIn } from './useTable'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))

const WAYS = {
  calculate: 'Work a field out',
  fill: 'Fill cells',
  replace: 'Find and replace',
  order: 'Number the rows',
} as const
type Way = keyof typeof WAYS
const ALL = ' '

interface Props {
  dataset: Dataset
  /** The condition by which the table is narrowed: only its rows are meant. */
  where: string
  onClose: () => void
}

/** Many cells changed at once, seen on real rows before they are. */
export function ManyCells({ dataset, where, onClose }: Props) {
  const takeIn = useTakeIn()
  const [way, setWay] = useState<Way>('calculate')
  const [name, setName] = useState('')
  const [expression, setExpression] = useState('')
  const [field, setField] = useState(dataset.fields[0]?.name ?? '')
  const [value, setValue] = useState('')
  const [within, setWithin] = useState('')
  const [find, setFind] = useState('')
  const [put, setPut] = useState('')
  const [whole, setWhole] = useState(false)
  const [exactCase, setExactCase] = useState(false)
  const [number, setNumber] = useState('order')
  const [by, setBy] = useState('')
  const [down, setDown] = useState(false)
  const numbering: Asked | null = number.trim()
    ? { do: 'order', where: '', name: number.trim(), by, descending: down, move: null, before: null }
    : null
  const cells: Asked | null =
    way === 'calculate'
      ? name.trim() && expression.trim()
        ? { do: 'calculate', where, name: name.trim(), expression }
        : null
      : way === 'fill'
        ? { do: 'fill', where, field, value: value.trim() === '' ? null : value }
        : find
          ? { do: 'replace', where, field: within, find, put, whole, case: exactCase }
          : null
  const asked = way === 'order' ? numbering : cells
  const path = { dataset_id: dataset.id }
  const look = useQuery({
    queryKey: ['many', dataset.revision, asked],
    queryFn: () =>
      answered(
        client.POST('/api/datasets/{dataset_id}/many/look', {
          params: { path },
          body: { asked: asked as Asked },
        }),
      ),
    enabled: asked !== null,
    placeholderData: keepPreviousData,
    retry: false,
  })
  const change = useMutation({
    mutationFn: () =>
      answered(client.POST('/api/datasets/{dataset_id}/many', { params: { path }, body: { asked: asked as Asked } })),
    onSuccess: (changed) => {
      takeIn(changed)
      onClose()
    },
  })
  const names = dataset.fields.map((each) => [each.name, each.name] as const)
  const texts = dataset.fields
    .filter(({ type }) => type === 'text')
    .map((each): [string, string] => [each.name, each.name])
  const changes = asked ? (look.data?.changes ?? 0) : 0
  return (
    <TableDialog
      title={where ? `Change many cells, where ${where}` : 'Change many cells'}
      trouble={(change.error ?? (asked ? look.error : null))?.message}
      onClose={onClose}
    >
      <Box role="group" aria-label="What to do" sx={{ display: 'flex', gap: 1, mb: 1 }}>
        {(Object.keys(WAYS) as Way[]).map((each) => (
          <Button
            key={each}
            variant={each === way ? 'contained' : 'outlined'}
            aria-pressed={each === way}
            onClick={() => setWay(each)}
          >
            {WAYS[each]}
          </Button>
        ))}
      </Box>
      {way === 'calculate' && (
        <>
          <Text label="Field" value={name} onChange={setName} placeholder="a new one, or one that is there" />
          <Suspense fallback={<Box sx={{ height: 60 }} />}>
            <ConditionEditor
              low
              gives="value"
              rows={rowsRead(dataset)}
              value={expression}
              label="Expression"
              onChange={setExpression}
            />
          </Suspense>
        </>
      )}
      {way === 'fill' && (
        <>
          <Choice label="Field" value={field} options={names} onChange={setField} />
          <Text label="gets" value={value} onChange={setValue} placeholder="nothing" />
        </>
      )}
      {way === 'replace' && (
        <>
          <Choice
            label="In"
            value={within || ALL}
            options={[[ALL, 'all fields of texts'], ...texts]}
            onChange={(each) => setWithin(each === ALL ? '' : each)}
          />
          <Text label="Find" value={find} onChange={setFind} />
          <Text label="Replace by" value={put} onChange={setPut} placeholder="nothing" />
          <Box sx={{ display: 'flex', gap: 2, my: 0.5 }}>
            <Check label="Whole cells only" checked={whole} onChange={setWhole} />
            <Check label="Capitals matter" checked={exactCase} onChange={setExactCase} />
          </Box>
        </>
      )}
      {way === 'order' && (
        <>
          <Text label="Field" value={number} onChange={setNumber} placeholder="of whole numbers" />
          <Choice
            label="In the order of"
            value={by || ALL}
            options={[[ALL, 'the rows as they are'], ...names]}
            onChange={(each) => setBy(each === ALL ? '' : each)}
          />
          <Check label="From the greatest to the least" checked={down} onChange={setDown} />
          <Typography variant="caption" color="text.secondary" sx={{ display: 'block' }}>
            Sort the table by this field, and drag a row by its number to another place.
          </Typography>
        </>
      )}
      {asked && look.data && <Seen view={look.data} />}
      <Button
        variant="contained"
        disabled={changes === 0 || change.isPending || look.isFetching}
        onClick={() => change.mutate()}
        sx={{ mt: 1 }}
      >
        Change {counted(changes, 'cell')}
      </Button>
    </TableDialog>
  )
}

function Seen({ view }: { view: ManyView }) {
  return (
    <>
      <Typography variant="body2" role="status" sx={{ mt: 1 }}>
        {view.changes === 0 ? 'No cell would change.' : `${counted(view.changes, 'cell')} would change.`}
        {view.makes_field ? ' The field is made for it.' : ''}
      </Typography>
      {view.some.length > 0 && (
        <Box
          component="table"
          aria-label="Cells before and after"
          sx={{ fontSize: 13, borderCollapse: 'collapse', '& td, & th': { pr: 2, textAlign: 'left' } }}
        >
          <tbody>
            {view.some.map((cell) => (
              <tr key={`${cell.fid} ${cell.field}`}>
                <td>Row {cell.fid + 1}</td>
                <td>{cell.field}</td>
                <td style={{ opacity: 0.7 }}>{shown(cell.before)}</td>
                <td>→ {shown(cell.after)}</td>
              </tr>
            ))}
          </tbody>
        </Box>
      )}
    </>
  )
}

const shown = (value: unknown) =>
  cellText(typeof value === 'number' ? Number(value.toPrecision(7)) : value) || 'nothing'

interface TextProps {
  label: string
  value: string
  placeholder?: string
  onChange: (value: string) => void
}

function Text({ label, value, placeholder = '', onChange }: TextProps) {
  return (
    <Labelled label={label}>
      <InputBase
        value={value}
        placeholder={placeholder}
        onChange={(e) => onChange(e.target.value)}
        inputProps={{ 'aria-label': label, maxLength: limits.Replace.find.most }}
        sx={{ flex: 1, fontSize: 13, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
      />
    </Labelled>
  )
}
