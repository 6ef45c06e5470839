import { useState } from 'react'
import { useMutation, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Editions } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'

const READERS = {
  anyone: 'anyone who has the address',
  shared: 'those with whom the sheet is shared',
  owner: 'you alone',
} as const satisfies Record<Editions['readers'], string>

/** For whom what stands at the address is, and on whose pages. */
export function WhoReads({ sheetId, editions }: { sheetId: string; editions: Editions }) {
  const queries = useQueryClient()
  const [typed, setTyped] = useState<string | null>(null)
  const keep = useMutation({
    mutationFn: (change: Partial<Pick<Editions, 'readers' | 'sites'>>) =>
      answered(
        client.PUT('/api/sheets/{sheet_id}/address', {
          params: { path: { sheet_id: sheetId } },
          body: { readers: editions.readers, sites: editions.sites, ...change },
        }),
      ),
    onSuccess: (kept) => queries.setQueryData(['editions', sheetId], kept),
  })
  const take = () => {
    if (typed === null) return
    keep.mutate({ sites: typed.split(/[\s,]+/).filter(Boolean) }, { onSuccess: () => setTyped(null) })
  }
  return (
    <Box sx={{ mb: 1 }}>
      <Choice
        label="Read by"
        value={editions.readers}
        options={Object.entries(READERS) as [Editions['readers'], string][]}
        onChange={(readers) => keep.mutate({ readers })}
      />
      <Labelled label="On pages of" wide>
        <InputBase
          value={typed ?? editions.sites.join(' ')}
          placeholder="anybody; or https://isles.example"
          onChange={(e) => setTyped(e.target.value)}
          onBlur={take}
          onKeyDown={(e) => e.key === 'Enter' && take()}
          inputProps={{ 'aria-label': 'Sites whose pages may show the map' }}
          sx={{ flex: 1, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26, fontSize: 13 }}
        />
      </Labelled>
      {keep.error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {keep.error.message}
        </Typography>
      )}
      {editions.readers !== 'anyone' && (
        <Typography variant="body2" color="text.secondary">
          They sign in here first. In frames on other sites browsers hold back who they are.
        </Typography>
      )}
    </Box>
  )
}
