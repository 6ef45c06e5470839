import { useState } from 'react'
import { keepPreviousData, useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { useLetters } from '../sheet/queries'
import { changeByHand } from './byHand'
import { useChosenLayer, useSheet } from '../sheet/store'

/** How many labels find room at the levels around this one; and at this one which do not, and why. */
export function LeftOut() {
  const document = useSheet((s) => s.document)
  const layer = useChosenLayer()
  const level = useSheet((s) => s.level)
  const [zoom, setZoom] = useState<number | null>(null)
  return (
    <Box sx={{ minHeight: 0, overflow: 'auto' }}>
      <Typography variant="body2" color="text.secondary" sx={{ mb: 1 }}>
        Labels set at the levels around this one
      </Typography>
      {levelsAround(level).map((each) => (
        <LevelBar
          key={each}
          zoom={each}
          document={document}
          layerId={layer?.id ?? ''}
          open={each === zoom}
          onOpen={() => setZoom(each === zoom ? null : each)}
        />
      ))}
      {zoom !== null && layer && <Rows zoom={zoom} document={document} layer={layer.id} dataset={layer.dataset} />}
    </Box>
  )
}

/** The level at which the map is seen, one further out and three further in. */
function levelsAround(level: number): number[] {
  const first = Math.max(0, Math.round(level) - 1)
  return [0, 1, 2, 3, 4].map((step) => first + step).filter((zoom) => zoom <= 24)
}

type Document = Parameters<typeof useLetters>[0]

interface LevelProps {
  zoom: number
  document: Document
  layerId: string
  open: boolean
  onOpen: () => void
}

function LevelBar({ zoom, document, layerId, open, onOpen }: LevelProps) {
  const letters = useLetters(document, zoom)
  const set = new Set(letters.data?.labels.filter((label) => label.layer === layerId).map((label) => label.feature))
    .size
  const out = letters.data?.left_out[layerId]?.length ?? 0
  const share = set + out > 0 ? set / (set + out) : 0
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, minHeight: 24 }}>
      <Typography variant="caption" className="mono" sx={{ width: 20 }}>
        {zoom}
      </Typography>
      <Box sx={{ flex: 1, maxWidth: 160, height: 6, bgcolor: 'line' }}>
        <Box style={{ width: `${share * 100}%` }} sx={{ height: '100%', bgcolor: 'primary.main' }} />
      </Box>
      <Typography variant="caption" color="text.secondary">
        {set} set,
      </Typography>
      {out === 0 && (
        <Typography variant="caption" color="text.secondary">
          none left out
        </Typography>
      )}
      {out > 0 && (
        <Button size="small" aria-expanded={open} onClick={onOpen} sx={{ p: 0, minHeight: 24 }}>
          {out} left out
        </Button>
      )}
    </Box>
  )
}

/** Which labels found no room at a level, and why; pressing one rings its feature. */
function Rows({
  zoom,
  document,
  layer,
  dataset,
}: {
  zoom: number
  document: Document
  layer: string
  dataset: string
}) {
  const out = useQuery({
    queryKey: ['left-out', document, zoom, layer],
    queryFn: () =>
      answered(
        client.POST('/api/draw/letters/left-out', {
          params: { query: { zoom, layer } },
          body: document as NonNullable<Document>,
        }),
      ),
    enabled: document !== null,
    placeholderData: keepPreviousData,
  })
  const fit = useMutation({
    mutationFn: (fid: number) =>
      answered(
        client.POST('/api/draw/letters/fit', {
          params: { query: { zoom, layer, fid } },
          body: document as NonNullable<Document>,
        }),
      ),
    onSuccess: ({ size, at, leader }, fid) => changeByHand(layer, fid, 'fit', at ? { at, leader } : { size }),
    onError: (error: Error) => useSheet.setState({ trouble: error.message }),
  })
  return (
    <Box component="ul" aria-label={`Labels left out at level ${zoom}`} sx={{ m: 0, mt: 1, p: 0, listStyle: 'none' }}>
      {(out.data ?? []).map(({ fid, text, why }) => (
        <Box component="li" key={fid} sx={{ display: 'flex', gap: 1.5, alignItems: 'baseline', fontSize: 12.5 }}>
          <Button
            size="small"
            onClick={() => useSheet.getState().chooseRows(dataset, [fid])}
            sx={{ p: 0, minHeight: 24, justifyContent: 'flex-start', textAlign: 'left' }}
          >
            {text}
          </Button>
          <span>{why}</span>
          <Button
            size="small"
            aria-label={`Make ${text} fit`}
            onClick={() => fit.mutate(fid)}
            disabled={fit.isPending}
            sx={{ p: 0, minHeight: 24 }}
          >
            make it fit
          </Button>
        </Box>
      ))}
    </Box>
  )
}
