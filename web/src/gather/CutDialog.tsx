import { useState } from 'react'
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import DialogActions from '@mui/material/DialogActions'
import DialogContent from '@mui/material/DialogContent'
import DialogTitle from '@mui/material/DialogTitle'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Dataset } from '../api/types'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { JobLine } from '../publish/JobLine'
import { counted } from '../wording'

const WIDTH = 260
const UNITS = {
  count: 'columns and rows',
  px: 'parts of so many pixels',
  ground: 'parts of a size on the ground',
} as const
type By = keyof typeof UNITS

/** A raster cut into parts, with a picture of the cuts and the names before anything is written. */
export function CutDialog({ dataset, onClose }: { dataset: Dataset; onClose: () => void }) {
  const degrees = /degree|4326|CRS84/i.test(dataset.crs)
  const [by, setBy] = useState<By>('count')
  const [wide, setWide] = useState(2)
  const [high, setHigh] = useState(2)
  const [pattern, setPattern] = useState('{name}_r{row}_c{column}')
  const [jobId, setJobId] = useState<string | null>(null)
  const path = { dataset_id: dataset.id }
  const unit = by === 'px' ? '' : degrees ? 'deg' : 'm'
  const asked =
    by === 'count'
      ? { columns: Math.round(wide), rows: Math.round(high), size: null, pattern }
      : { columns: null, rows: null, size: `${wide}x${high}${unit}`, pattern }
  const look = useQuery({
    queryKey: ['cut', dataset.revision, asked],
    queryFn: () => answered(client.POST('/api/datasets/{dataset_id}/cut/look', { params: { path }, body: asked })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const start = useMutation({
    mutationFn: () => answered(client.POST('/api/datasets/{dataset_id}/cut', { params: { path }, body: asked })),
    onSuccess: ({ id }) => setJobId(id),
  })
  const job = useQuery({
    queryKey: ['job', jobId],
    queryFn: () => answered(client.GET('/api/jobs/{job_id}', { params: { path: { job_id: jobId ?? '' } } })),
    enabled: jobId !== null,
    refetchInterval: (query) => (['running', 'waiting'].includes(query.state.data?.state ?? 'running') ? 400 : false),
  }).data
  const busy = start.isPending || (jobId !== null && ['running', 'waiting'].includes(job?.state ?? 'waiting'))
  /** What was cut before was cut otherwise. */
  const anew =
    <T,>(set: (value: T) => void) =>
    (value: T) => {
      setJobId(null)
      set(value)
    }
  const choose = (next: By) => {
    anew(setBy)(next)
    const size = next === 'count' ? 2 : next === 'px' ? 512 : degrees ? 0.5 : 5000
    setWide(size)
    setHigh(size)
  }
  const trouble = start.error ?? look.error
  return (
    <Dialog open onClose={onClose} aria-labelledby="cut-title" maxWidth="sm" fullWidth>
      <DialogTitle id="cut-title">Cut “{dataset.title}” into parts</DialogTitle>
      <DialogContent sx={{ display: 'grid', gridTemplateColumns: `minmax(0, 1fr) ${WIDTH}px`, gap: 3 }}>
        <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1 }}>
          <Choice label="By" value={by} options={Object.entries(UNITS) as [By, string][]} onChange={choose} />
          <Amount
            label={by === 'count' ? 'Columns' : `Width${unit && `, ${unit}`}`}
            value={wide}
            from={by === 'ground' ? 0.0001 : 1}
            to={by === 'count' ? 100 : 1_000_000}
            step={by === 'ground' && degrees ? 0.1 : 1}
            onChange={anew(setWide)}
          />
          <Amount
            label={by === 'count' ? 'Rows' : `Height${unit && `, ${unit}`}`}
            value={high}
            from={by === 'ground' ? 0.0001 : 1}
            to={by === 'count' ? 100 : 1_000_000}
            step={by === 'ground' && degrees ? 0.1 : 1}
            onChange={anew(setHigh)}
          />
          <Labelled label="Names" wide>
            <InputBase
              value={pattern}
              onChange={(e) => anew(setPattern)(e.target.value)}
              inputProps={{
                'aria-label': 'Pattern of the names',
                spellCheck: false,
                maxLength: limits.CutIn.pattern.most,
              }}
              sx={{
                border: 1,
                borderColor: 'line',
                bgcolor: 'raised',
                px: 1,
                fontSize: 12.5,
                fontFamily: 'mono',
                flex: 1,
              }}
            />
          </Labelled>
          <Typography variant="caption" color="text.secondary">
            {'{row:03} has three digits.'} An index of where each part lies comes with them, as GeoJSON and CSV.
          </Typography>
          {trouble && (
            <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
              {trouble.message}
            </Typography>
          )}
          {job && <JobLine job={job} />}
        </Box>
        <Box>
          {look.data && !look.error && (
            <>
              <Cuts raster={dataset.raster} columns={look.data.columns} rows={look.data.rows} size={look.data} />
              <Typography variant="body2" sx={{ mt: 1 }}>
                {counted(look.data.parts, 'part')} of {look.data.width.toLocaleString('en')} ×{' '}
                {look.data.height.toLocaleString('en')} px
              </Typography>
              <Typography variant="caption" color="text.secondary" sx={{ wordBreak: 'break-all' }}>
                {look.data.first} … {look.data.last}
              </Typography>
            </>
          )}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        {job?.state === 'done' && jobId ? (
          <Button variant="contained" href={`/api/jobs/${jobId}/file`}>
            Take the parts away
          </Button>
        ) : (
          <Button variant="contained" disabled={busy || !look.data || look.isError} onClick={() => start.mutate()}>
            Cut it
          </Button>
        )}
      </DialogActions>
    </Dialog>
  )
}

interface CutsProps {
  raster: Dataset['raster']
  columns: number
  rows: number
  size: { width: number; height: number }
}

/** The raster as a box, with a line for each cut. */
function Cuts({ raster, columns, rows, size }: CutsProps) {
  const [across, down] = [Number(raster?.width ?? 1), Number(raster?.height ?? 1)]
  const scale = Math.min(WIDTH / across, 200 / down)
  const [w, h] = [across * scale, down * scale]
  const cuts = (n: number, step: number, end: number) =>
    Array.from({ length: Math.min(n - 1, 200) }, (_, i) => Math.min((i + 1) * step * scale, end))
  return (
    <svg width={w} height={h} role="img" aria-label={`${columns} columns and ${rows} rows`}>
      <rect width={w} height={h} fill="none" stroke="currentColor" strokeWidth={2} />
      {cuts(columns, size.width, w).map((x) => (
        <line key={`x${x}`} x1={x} x2={x} y1={0} y2={h} stroke="currentColor" strokeWidth={0.75} />
      ))}
      {cuts(rows, size.height, h).map((y) => (
        <line key={`y${y}`} x1={0} x2={w} y1={y} y2={y} stroke="currentColor" strokeWidth={0.75} />
      ))}
    </svg>
  )
}
