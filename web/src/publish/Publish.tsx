import { useEffect, useState } from 'react'
import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Edition } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { currentView } from '../sheet/mapBridge'
import { useSheet } from '../sheet/store'
import { EditionList } from './EditionList'
import { Credits } from './Credits'
import { EmbedCode } from './EmbedCode'
import { WhoReads } from './WhoReads'
import { JobLine } from './JobLine'
import { useEditions, useJobs } from './queries'

/** Editions at an address that does not change: cut one, embed it, fetch its files, bring one back. */
export function Publish() {
  const sheetId = useSheet((s) => s.id) ?? ''
  const editions = useEditions(sheetId)
  const queries = useQueryClient()
  const jobs = useJobs().data?.filter((job) => job.kind === 'publish' && job.result.sheet === sheetId) ?? []
  const mine = jobs.slice(0, 1)
  const ended = jobs.map((job) => job.state).join()
  useEffect(() => void queries.invalidateQueries({ queryKey: ['editions', sheetId] }), [queries, sheetId, ended])
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '300px minmax(0, 1fr) 330px', height: '100%' }}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        {!editions.isPending && <CutControls sheetId={sheetId} last={editions.data?.editions[0]?.asked} />}
        {mine.map((job) => (
          <JobLine key={job.id} job={job} />
        ))}
      </Box>
      <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, px: 3, overflow: 'auto' }}>
        <EditionList sheetId={sheetId} editions={editions.data?.editions ?? []} />
      </Box>
      <Box sx={{ borderLeft: 1, borderColor: 'line', p: 2, px: 3, overflow: 'auto' }}>
        {sheetId && editions.data?.address && <WhoReads sheetId={sheetId} editions={editions.data} />}
        {editions.data?.address ? <EmbedCode address={editions.data.address} /> : <Credits />}
        {editions.data?.address && <Credits />}
      </Box>
    </Box>
  )
}

interface CutProps {
  sheetId: string
  /** How the last edition was asked for; the next one begins so. */
  last: Edition['asked'] | undefined
}

function CutControls({ sheetId, last }: CutProps) {
  const revision = useSheet((s) => s.revision)
  const { edit, flush } = useSheet.getState()
  const [size, setSize] = useState<'256' | '512'>(last?.size === 512 ? '512' : '256')
  const [levels, setLevels] = useState<{ min_zoom: number | null; max_zoom: number | null }>({
    min_zoom: last?.min_zoom ?? null,
    max_zoom: last?.max_zoom ?? null,
  })
  const queries = useQueryClient()
  const [nowhere, setNowhere] = useState(false)
  const [format, setFormat] = useState<'png' | 'webp'>(last?.format ?? 'png')
  const body = { size: Number(size), format, ...levels }
  const plan = useQuery({
    queryKey: ['plan', sheetId, revision, body],
    queryFn: () =>
      answered(client.POST('/api/sheets/{sheet_id}/plan', { params: { path: { sheet_id: sheetId } }, body })),
    placeholderData: keepPreviousData,
    retry: false,
  })
  const publish = useMutation({
    mutationFn: async () => {
      await flush()
      return answered(client.POST('/api/sheets/{sheet_id}/editions', { params: { path: { sheet_id: sheetId } }, body }))
    },
    onSettled: () => queries.invalidateQueries({ queryKey: ['jobs'] }),
  })
  const trouble = publish.error ?? plan.error
  return (
    <>
      <Choice
        label="Tiles"
        value={size}
        options={
          [
            ['256', '256 px'],
            ['512', '512 px, twice as sharp'],
          ] as const
        }
        onChange={setSize}
      />
      <Choice
        label="Pictures"
        value={format}
        options={
          [
            ['png', 'PNG, read everywhere'],
            ['webp', 'WebP, the same in less'],
          ] as const
        }
        onChange={setFormat}
      />
      <Labelled label="Levels">
        <EditableNumber
          label="First level"
          value={plan.data?.min_zoom ?? 0}
          width={44}
          onChange={(min_zoom) => setLevels({ ...levels, min_zoom })}
        />
        <span>to</span>
        <EditableNumber
          label="Last level"
          value={plan.data?.max_zoom ?? 0}
          width={44}
          onChange={(max_zoom) => setLevels({ ...levels, max_zoom })}
        />
        {(levels.min_zoom !== null || levels.max_zoom !== null) && (
          <Button onClick={() => setLevels({ min_zoom: null, max_zoom: null })}>from the data</Button>
        )}
      </Labelled>
      {plan.data?.deeper != null && (
        <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, maxWidth: 330 }}>
          The data would go to level {plan.data.deeper}: this is as deep as can be cut at once.
        </Typography>
      )}
      <Labelled label="Start view">
        <Button
          variant="outlined"
          onClick={() =>
            void currentView().then((seen) => {
              setNowhere(seen === null)
              if (seen) edit('view', (draft) => void (draft.view = { lon: seen.lon, lat: seen.lat, zoom: seen.zoom }))
            })
          }
        >
          Take what the map shows now
        </Button>
      </Labelled>
      {nowhere && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          The middle of the map is beyond the globe: move it to a place first.
        </Typography>
      )}
      <Box sx={{ pt: 2 }}>
        <Button
          variant="contained"
          disabled={!plan.data || plan.isError || publish.isPending}
          onClick={() => publish.mutate()}
        >
          Cut {plan.data ? `up to ${plan.data.tiles.toLocaleString('en')}` : ''} tiles and publish
        </Button>
      </Box>
      {trouble && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main', mt: 1 }}>
          {trouble.message}
        </Typography>
      )}
    </>
  )
}
