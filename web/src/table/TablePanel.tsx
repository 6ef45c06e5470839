import { useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import { Glyph } from '../Glyph'
import { NoLayer } from '../bench/NoLayer'
import { PlainSelect } from '../bench/PlainSelect'
import { useDataset, useDatasets } from '../sheet/queries'
import { useChosenLayer } from '../sheet/store'
import { useGather } from '../gather/gatherState'
import { Doubts, open, useDoubts } from './Doubts'
import { Pictures } from './Pictures'
import { Redelivery } from './Redelivery'
import { RowFilter } from './RowFilter'
import { Rows } from './Rows'
import { TableTools } from './TableTools'

/** The rows of a dataset, to be read and changed. */
export function TablePanel() {
  const { table: datasetId, where, others } = useGather()
  const onDataset = (table: string | null) => useGather.setState({ table, where: '', others: {} })
  const layer = useChosenLayer()
  const dataset = useDataset(datasetId ?? layer?.dataset)
  const tables = useDatasets().filter((candidate) => candidate.kind !== 'raster')
  const [doubting, setDoubting] = useState(false)
  const [picturing, setPicturing] = useState(false)
  const { data: doubts } = useDoubts(dataset && dataset.kind !== 'raster' ? dataset : null, doubting)
  const [redelivered, setRedelivered] = useState<string | null>(null)
  if (tables.length === 0) return <NoLayer text="There is no table yet. Bring in a file." />
  const shown = dataset && dataset.kind !== 'raster' ? dataset : null
  if (shown && redelivered === shown.id)
    return <Redelivery key={shown.id} dataset={shown} onDone={() => setRedelivered(null)} />
  return (
    <>
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          flexWrap: 'wrap',
          columnGap: 1,
          px: 2,
          minHeight: 32,
          flexShrink: 0,
        }}
      >
        <PlainSelect
          label="Dataset of the table"
          value={shown?.id ?? ''}
          options={[
            ...(shown ? [] : [['', 'Choose a dataset'] as const]),
            ...(datasetId && layer && datasetId !== layer.dataset ? [['', 'That of the layer'] as const] : []),
            ...tables.map(({ id, title }) => [id, title] as const),
          ]}
          onChange={(id) => onDataset(id || null)}
          sx={{ maxWidth: 150 }}
        />
        {shown && <RowFilter key={`filter ${shown.id}`} dataset={shown} where={where} others={others} />}
        {shown && (
          <Button size="small" aria-pressed={doubting} onClick={() => setDoubting(!doubting)}>
            {doubts && open(doubts).length > 0 ? `Doubts ${open(doubts).length}` : 'Doubts'}
          </Button>
        )}
        {shown && (
          <Tooltip title="Pictures of the rows">
            <IconButton aria-label="Pictures" aria-pressed={picturing} onClick={() => setPicturing(!picturing)}>
              <Glyph name="picture" />
            </IconButton>
          </Tooltip>
        )}
        {shown && (
          <TableTools key={shown.id} dataset={shown} where={where} onRedelivery={() => setRedelivered(shown.id)} />
        )}
      </Box>
      <Box sx={{ flex: 1, minHeight: 0, display: 'flex' }}>
        {shown && <Rows key={shown.id} dataset={shown} where={where} others={others} />}
        {shown && doubting && <Doubts dataset={shown} />}
        {shown && picturing && <Pictures dataset={shown} />}
      </Box>
    </>
  )
}
