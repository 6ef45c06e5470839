import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Link from '@mui/material/Link'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Edition } from '../api/types'
import { momentOf } from '../wording'
import { filesByUse } from './editionFiles'

/** All editions, the newest first: where they stand, what they hold, and a way back to any of them. */
export function EditionList({ sheetId, editions }: { sheetId: string; editions: Edition[] }) {
  const queries = useQueryClient()
  const bringBack = useMutation({
    mutationFn: (number: number) =>
      answered(
        client.POST('/api/sheets/{sheet_id}/editions/{number}/bring-back', {
          params: { path: { sheet_id: sheetId, number } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['editions', sheetId] }),
  })
  if (editions.length === 0)
    return (
      <Typography variant="body2" color="text.secondary">
        Nothing is published yet: only you see this sheet. A publish cuts tiles, writes open files and gives the map an
        address that stays the same when the map is improved.
      </Typography>
    )
  return (
    <Box component="ul" aria-label="Editions" sx={{ listStyle: 'none', m: 0, p: 0 }}>
      {editions.map((edition) => (
        <Box component="li" key={edition.number} sx={{ py: 1, borderBottom: 1, borderColor: 'line' }}>
          <Box sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
            <Link
              href={edition.address}
              target="_blank"
              rel="noopener"
              sx={{ fontWeight: 600, fontSize: 14, lineHeight: '24px' }}
            >
              Edition {edition.number}
            </Link>
            {edition.current && (
              <Typography variant="caption" sx={{ color: 'primary.main', fontWeight: 600 }}>
                at the address
              </Typography>
            )}
            <Typography variant="caption" color="text.secondary" sx={{ flex: 1 }}>
              {momentOf(edition.published)} · {edition.tiles.toLocaleString('en')} tiles of {edition.size} px · levels{' '}
              {edition.min_zoom}–{edition.max_zoom}
            </Typography>
            {!edition.current && <Button onClick={() => bringBack.mutate(edition.number)}>Bring back</Button>}
          </Box>
          {filesByUse(edition.files).map(([use, names]) => (
            <Box key={use} sx={{ display: 'grid', gridTemplateColumns: '92px minmax(0, 1fr)', fontSize: 12.5 }}>
              <Typography variant="caption" color="text.secondary">
                {use}
              </Typography>
              <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 2 }}>
                {names.map((name) => (
                  <Link key={name} href={`${edition.address}${name}`} sx={{ lineHeight: '24px' }}>
                    {name}
                  </Link>
                ))}
              </Box>
            </Box>
          ))}
        </Box>
      ))}
    </Box>
  )
}
