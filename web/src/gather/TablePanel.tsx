import { type ChangeEvent, useEffect, useRef, useState } from 'react'
import { useQueries, useQuery } from '@tanstack/react-query'
import { useVirtualizer } from '@tanstack/react-virtual'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { NoLayer } from '../bench/NoLayer'
import { isNumeric } from '../fields'
import { useDataset, useDatasets } from '../sheet/queries'
import { useChosenLayer, useSheet } from '../sheet/store'

const PAGE = 200
const ROW = 23
const COLUMN = 132

interface Props {
  /** A dataset that was opened by hand; without, the chosen layer's. */
  datasetId: string | null
  onDataset: (id: string | null) => void
}

/** The rows of a dataset. Only what is in view is fetched and laid out, so that a million rows scroll. */
export function TablePanel({ datasetId, onDataset }: Props) {
  const layer = useChosenLayer()
  const dataset = useDataset(datasetId ?? layer?.dataset)
  const tables = useDatasets().filter((one) => one.kind !== 'raster')
  if (tables.length === 0) return <NoLayer text="There is no table yet. Bring in a file." />
  return (
    <>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, px: 2, height: 30, flexShrink: 0 }}>
        <Box
          component="select"
          aria-label="Dataset of the table"
          value={dataset && dataset.kind !== 'raster' ? dataset.id : ''}
          onChange={(e: ChangeEvent<HTMLSelectElement>) => onDataset(e.target.value || null)}
          sx={{
            font: 'inherit',
            fontSize: 13,
            height: 24,
            bgcolor: 'raised',
            color: 'text.primary',
            borderColor: 'line',
          }}
        >
          {(!dataset || dataset.kind === 'raster') && <option value="">Choose a dataset</option>}
          {tables.map((one) => (
            <option key={one.id} value={one.id}>
              {one.title}
            </option>
          ))}
        </Box>
        {datasetId && layer && datasetId !== layer.dataset && (
          <Button onClick={() => onDataset(null)}>That of the layer</Button>
        )}
      </Box>
      {dataset && dataset.kind !== 'raster' && <Rows key={dataset.revision} dataset={dataset} />}
    </>
  )
}

function Rows({ dataset }: { dataset: Dataset }) {
  const scroller = useRef<HTMLDivElement>(null)
  const chosen = useSheet((s) => s.row)
  const [sort, setSort] = useState<{ field: string; descending: boolean } | null>(null)
  const clickedHere = useRef<number | null>(null)
  const virtual = useVirtualizer({
    count: dataset.rows,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    paddingStart: 26,
  })
  const items = virtual.getVirtualItems()
  const pages = [...new Set(items.map((item) => Math.floor(item.index / PAGE)))]
  const query = { sort: sort?.field ?? '', descending: sort?.descending ?? false }
  const answers = useQueries({
    queries: pages.map((page) => ({
      queryKey: ['rows', dataset.revision, query, page],
      queryFn: () =>
        answered(
          client.GET('/api/datasets/{dataset_id}/rows', {
            params: { path: { dataset_id: dataset.id }, query: { ...query, offset: page * PAGE, limit: PAGE } },
          }),
        ),
      staleTime: Infinity,
    })),
  })
  const loaded = new Map(pages.map((page, i) => [page, answers[i]?.data?.rows]))
  const position = useQuery({
    queryKey: ['position', dataset.revision, query, chosen],
    queryFn: () =>
      answered(
        client.GET('/api/datasets/{dataset_id}/position', {
          params: { path: { dataset_id: dataset.id }, query: { ...query, row: chosen ?? 0 } },
        }),
      ),
    enabled: chosen !== null && chosen < dataset.rows && clickedHere.current !== chosen,
  })
  const to = (position.data as { position?: number } | undefined)?.position
  useEffect(() => {
    if (to !== undefined) virtual.scrollToIndex(to, { align: 'center' })
  }, [to, virtual])

  const choose = (row: number) => {
    clickedHere.current = row
    useSheet.setState({ row })
  }
  const width = 56 + COLUMN * dataset.fields.length
  return (
    <Box
      ref={scroller}
      role="grid"
      aria-label={`Rows of ${dataset.title}`}
      aria-rowcount={dataset.rows}
      tabIndex={0}
      onKeyDown={(e) => {
        if (chosen === null || (e.key !== 'ArrowDown' && e.key !== 'ArrowUp')) return
        e.preventDefault()
        const at = items.find((item) => loaded.get(Math.floor(item.index / PAGE))?.[item.index % PAGE]?.[0] === chosen)
        const next = at && at.index + (e.key === 'ArrowDown' ? 1 : -1)
        const row = next !== undefined ? loaded.get(Math.floor(next / PAGE))?.[next % PAGE]?.[0] : undefined
        if (typeof row === 'number' && next !== undefined) {
          choose(row)
          virtual.scrollToIndex(next)
        }
      }}
      sx={{ flex: 1, overflow: 'auto', fontSize: 12.5, position: 'relative' }}
    >
      <Box sx={{ height: virtual.getTotalSize(), width, position: 'relative' }}>
        <Box
          role="row"
          sx={{
            position: 'sticky',
            top: 0,
            height: 26,
            display: 'flex',
            bgcolor: 'background.paper',
            borderBottom: 1,
            borderColor: 'line',
            zIndex: 1,
          }}
        >
          <Box role="columnheader" sx={{ width: 56, px: 1, fontSize: 12, color: 'text.secondary', lineHeight: '25px' }}>
            row
          </Box>
          {dataset.fields.map((field) => (
            <Box
              key={field.name}
              role="columnheader"
              aria-sort={sort?.field === field.name ? (sort.descending ? 'descending' : 'ascending') : 'none'}
              sx={{ width: COLUMN, display: 'flex' }}
            >
              <ButtonBase
                title={`${field.type}${field.missing ? `, ${field.missing} missing` : ''}`}
                onClick={() =>
                  setSort(
                    sort?.field !== field.name
                      ? { field: field.name, descending: false }
                      : sort.descending
                        ? null
                        : { field: field.name, descending: true },
                  )
                }
                sx={{
                  flex: 1,
                  minWidth: 0,
                  justifyContent: isNumeric(field) ? 'flex-end' : 'flex-start',
                  px: 1,
                  fontWeight: 600,
                  fontSize: 12.5,
                  overflow: 'hidden',
                  whiteSpace: 'nowrap',
                }}
              >
                {field.name}
                {sort?.field === field.name ? (sort.descending ? ' ↓' : ' ↑') : ''}
              </ButtonBase>
            </Box>
          ))}
        </Box>
        {items.map((item) => {
          const row = loaded.get(Math.floor(item.index / PAGE))?.[item.index % PAGE]
          const id = row?.[0] as number | undefined
          return (
            <Box
              key={item.key}
              role="row"
              aria-selected={id !== undefined && id === chosen}
              tabIndex={item.index === items[0]?.index ? 0 : -1}
              onClick={() => id !== undefined && choose(id)}
              onKeyDown={(e) => {
                const row = e.currentTarget
                const to = { ArrowDown: row.nextElementSibling, ArrowUp: row.previousElementSibling }[e.key]
                if (e.key === 'Enter' && id !== undefined) choose(id)
                else if (to) (to as HTMLElement).focus()
                else return
                e.preventDefault()
              }}
              sx={{
                position: 'absolute',
                top: 0,
                left: 0,
                width,
                height: ROW,
                transform: `translateY(${item.start}px)`,
                display: 'flex',
                alignItems: 'center',
                cursor: 'pointer',
                borderBottom: 1,
                borderColor: 'line',
                bgcolor: id !== undefined && id === chosen ? 'tint' : 'transparent',
                '&:hover': { bgcolor: 'tint' },
              }}
            >
              <Box role="rowheader" sx={{ width: 56, px: 1, color: 'text.secondary', textAlign: 'right' }}>
                {id === undefined ? '' : id + 1}
              </Box>
              {row?.slice(1).map((cell, i) => (
                <Box
                  key={i}
                  role="gridcell"
                  sx={{
                    width: COLUMN,
                    px: 1,
                    overflow: 'hidden',
                    textOverflow: 'ellipsis',
                    whiteSpace: 'nowrap',
                    textAlign: typeof cell === 'number' ? 'right' : 'left',
                  }}
                >
                  {cell === null
                    ? ''
                    : typeof cell === 'number'
                      ? cell.toLocaleString('en', { maximumFractionDigits: 6 })
                      : String(cell)}
                </Box>
              ))}
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}
