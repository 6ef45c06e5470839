import { useState } from 'react'
import { useQueries } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import { ShareDialog } from './ShareDialog'

interface Thing {
  id: string
  title: string
  kind: string
}

/** What one keeps beside sheets and datasets, to be shared: cross-lists, ramps, icons. */
export function SmallThings() {
  const [sharing, setSharing] = useState<Thing | null>(null)
  const [lists, ramps, icons] = useQueries({
    queries: [
      { queryKey: ['cross-lists'], queryFn: () => answered(client.GET('/api/cross-lists', {})) },
      {
        queryKey: ['own-ramps', 5],
        queryFn: () => answered(client.GET('/api/ramps', { params: { query: { n: 5 } } })),
      },
      { queryKey: ['icons'], queryFn: () => answered(client.GET('/api/icons')) },
    ],
  })
  const mine = <T extends { id: string; may: readonly string[] }>(
    things: readonly T[] | undefined,
    kind: string,
    title: (thing: T) => string,
  ): Thing[] =>
    (things ?? [])
      .filter(({ may }) => may.includes('share'))
      .map((thing) => ({ id: thing.id, kind, title: title(thing) }))
  const things = [
    ...mine(lists.data, 'cross-list', (list) => list.title),
    ...mine(ramps.data, 'ramp', (ramp) => ramp.name),
    ...mine(icons.data, 'icon', (each) => each.icon.name || 'icon'),
  ]
  if (things.length === 0) return null
  return (
    <Box component="section" aria-label="Lists, ramps and icons" sx={{ borderTop: 1, borderColor: 'line', py: 3 }}>
      <Typography component="h2" sx={{ fontSize: 15, fontWeight: 600 }}>
        Your lists, ramps and icons
      </Typography>
      <Box component="ul" sx={{ listStyle: 'none', m: 0, p: 0, fontSize: 14 }}>
        {things.map((thing) => (
          <Box component="li" key={thing.id} sx={{ display: 'flex', alignItems: 'center', gap: 2, minHeight: 32 }}>
            <Box sx={{ flex: 1 }}>
              {thing.title}{' '}
              <Typography component="span" variant="caption" color="text.secondary">
                {thing.kind}
              </Typography>
            </Box>
            <Button size="small" aria-label={`Share ${thing.title}`} onClick={() => setSharing(thing)}>
              Share
            </Button>
          </Box>
        ))}
      </Box>
      {sharing && <ShareDialog id={sharing.id} title={sharing.title} onClose={() => setSharing(null)} />}
    </Box>
  )
}
