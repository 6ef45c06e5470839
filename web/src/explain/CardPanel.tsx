import { keepPreviousData, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Chip from '@mui/material/Chip'
import Typography from '@mui/material/Typography'
import { lazy, Suspense, useRef } from 'react'
import { answered, client } from '../api/client'
import { NoLayer } from '../bench/NoLayer'
import { useDataset } from '../sheet/queries'
import { useAttaching } from '../table/attaching'
import { useChosenIn, useChosenLayer, useSheet } from '../sheet/store'
import { CardBody } from './CardBody'
import { named } from './cardLanguage'
import { CopyCard } from './CopyCard'
import type { TemplateHandle } from './TemplateEditor'

const NOBODY: string[] = []
const TemplateEditor = lazy(() => import('./TemplateEditor'))

/** The card that a reader sees on asking a feature: the template beside the live card. */
export function CardPanel() {
  const layer = useChosenLayer()
  const dataset = useDataset(layer?.dataset)
  const { fid } = useChosenIn(layer?.dataset)
  const { edit, editLayer } = useSheet.getState()
  const editor = useRef<TemplateHandle>(null)
  const template = layer?.card ?? ''
  const allowed = useSheet((s) => s.document?.pictures_from ?? NOBODY)
  const pictures = useAttaching((s) => s.changed)
  const isVector = dataset !== null && dataset.kind !== 'raster'
  const card = useQuery({
    queryKey: ['card', layer?.dataset, template, fid, allowed, pictures, template === '' && layer?.symbology],
    queryFn: () =>
      answered(
        client.POST('/api/draw/card', {
          body: { dataset: layer?.dataset ?? '', template, fid, pictures_from: allowed, look: layer?.symbology },
        }),
      ),
    enabled: isVector,
    placeholderData: keepPreviousData,
    retry: false,
  })
  if (!layer) return <NoLayer />
  if (!isVector) return <NoLayer text="Readers ask areas, lines and points. Choose such a layer in the key." />
  const write = (text: string) => editLayer(layer.id, 'card', (draft) => void (draft.card = text))
  const foreign = card.data?.pictures_from ?? NOBODY
  const allow = (host: string) =>
    edit(`pictures:${host}`, (draft) => {
      const others = draft.pictures_from.filter((other) => other !== host)
      draft.pictures_from = allowed.includes(host) ? others : [...others, host]
    })
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 320px', height: '100%', minHeight: 160 }}>
      <Box sx={{ display: 'flex', flexDirection: 'column', p: 2, pl: 3, gap: 1, minHeight: 0 }}>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, maxHeight: 50, overflow: 'auto', flexShrink: 0 }}>
          {dataset.fields.map((field) => (
            <Chip
              key={field.name}
              label={field.name}
              size="small"
              variant="outlined"
              onClick={() => editor.current?.insert(`{{ ${named(field.name)} }}`)}
              aria-label={`Insert ${field.name}`}
              sx={{ borderRadius: '2px', height: 21, fontFamily: '"Source Code Pro", monospace', fontSize: 11.5 }}
            />
          ))}
        </Box>
        <Suspense fallback={<Box sx={{ flex: 1 }} />}>
          <TemplateEditor
            key={layer.id}
            handle={editor}
            value={template}
            fields={dataset.fields.map(({ name }) => name)}
            onChange={write}
          />
        </Suspense>
        <Box role="status" sx={{ minHeight: 22, fontSize: 12.5, color: 'text.secondary', flexShrink: 0 }}>
          {card.data?.mistake && <Box sx={{ color: 'error.main' }}>{card.data.mistake}</Box>}
          {(card.data?.unknown.length ?? 0) > 0 && (
            <Box sx={{ color: 'error.main' }}>
              No such field: {card.data?.unknown.map((name) => `{{ ${name} }}`).join(', ')}
            </Box>
          )}
          {foreign.map((host) => (
            <Box key={host}>
              Pictures from {host} are {allowed.includes(host) ? 'shown; it learns who reads the map.' : 'not shown.'}
              <Button onClick={() => allow(host)} sx={{ p: 0, ml: 2 }}>
                {allowed.includes(host) ? 'Show none' : 'Show them'}
              </Button>
            </Box>
          ))}
          {template === '' && card.data?.suggestion && (
            <Button onClick={() => write(card.data.suggestion)} sx={{ p: 0 }}>
              Begin with its name and what the map shows
            </Button>
          )}
          {template !== '' && <CopyCard from={layer} />}
        </Box>
      </Box>
      <Box sx={{ borderLeft: 1, borderColor: 'line', p: 3, overflow: 'auto' }}>
        <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mb: 1 }}>
          As readers see it · {fid === null ? 'the first row' : `row ${fid + 1}`} · click the map for another
        </Typography>
        <Box
          data-testid="card"
          sx={{ border: 1, borderColor: 'line', bgcolor: '#ffffff', color: '#2b2d2f', p: 3, minHeight: 60 }}
        >
          <CardBody html={card.data?.html ?? ''} />
        </Box>
      </Box>
    </Box>
  )
}
