import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { answered, client } from '../api/client'
import type { Dataset, Sheet } from '../api/types'
import { useDatasets } from '../sheet/queries'
import { useSheet } from '../sheet/store'

const NAMES = ['plain', 'light', 'dark', 'relief'] as const
type Name = (typeof NAMES)[number]

/** What each ground looks like, as a small picture: land on it, and for relief a hill in the light. */
const LOOKS: Record<Name, { ground: string; land: string; edge: string }> = {
  plain: { ground: 'transparent', land: '#c9c2b0', edge: '#5d5a52' },
  light: { ground: '#eef0ed', land: '#c9c2b0', edge: '#8b877c' },
  dark: { ground: '#23282d', land: '#8e8a7d', edge: '#11151a' },
  relief: { ground: '#eef0ed', land: '#c9c2b0', edge: 'none' },
}

/** Grounds that are chosen with one press: colours, or the shade of a raster below everything. */
export function Grounds() {
  const { edit } = useSheet.getState()
  const rasters = useDatasets().filter((dataset) => dataset.raster?.colour === 'one band')
  const shaded = useSheet((s) => s.document?.layers.find((layer) => layer.symbology.kind === 'hillshade')?.dataset)
  const onRelief = useSheet((s) => s.document?.layers.some((layer) => layer.id === 'ground-relief')) ?? false
  const [chosen, setChosen] = useState<string | null>(null)
  const raster = chosen ?? shaded ?? rasters[0]?.id ?? null
  const lay = useMutation({
    mutationFn: (asked: { ground: Name; raster: string | null }) => {
      const document = useSheet.getState().document as Sheet
      return answered(client.POST('/api/draw/ground', { body: { document, ...asked } }))
    },
    onSuccess: (laid) => edit('ground', (draft) => void Object.assign(draft, laid)),
  })
  const take = (id: string) => {
    setChosen(id)
    lay.mutate({ ground: 'relief', raster: id })
  }
  return (
    <Box sx={{ px: 3, pt: 1, pb: 0.5 }}>
      <Box
        role="group"
        aria-label="Lay the map on"
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(4, 1fr)', gap: 1 }}
      >
        {NAMES.map((name) => (
          <ButtonBase
            key={name}
            disabled={lay.isPending || (name === 'relief' && raster === null)}
            title={name === 'relief' && raster === null ? 'Bring in a raster of heights first' : undefined}
            onClick={() => lay.mutate({ ground: name, raster })}
            sx={{
              flexDirection: 'column',
              fontSize: 12,
              border: 1,
              borderColor: 'line',
              '&.Mui-disabled': { opacity: 0.45 },
              '&:hover': { borderColor: 'text.secondary' },
            }}
          >
            <Picture name={name} />
            {name}
          </ButtonBase>
        ))}
      </Box>
      {onRelief && rasters.length > 1 && <ReliefOf rasters={rasters} value={raster} onChange={take} />}
    </Box>
  )
}

function Picture({ name }: { name: Name }) {
  const { ground, land, edge } = LOOKS[name]
  return (
    <svg viewBox="0 0 48 26" width="100%" height="26" preserveAspectRatio="none" aria-hidden>
      <rect width="48" height="26" fill={ground} />
      <path d="M8 20 Q12 5 24 6 T41 12 Q42 22 28 22 T8 20Z" fill={land} stroke={edge} />
      {name === 'relief' && <path d="M24 6 Q33 8 41 12 Q42 22 28 22 Q31 14 24 6Z" fill="#837f74" />}
    </svg>
  )
}

interface ReliefOfProps {
  rasters: Dataset[]
  value: string | null
  onChange: (id: string) => void
}

function ReliefOf({ rasters, value, onChange }: ReliefOfProps) {
  return (
    <label style={{ display: 'flex', alignItems: 'center', gap: 8, fontSize: 12.5, marginTop: 6 }}>
      Relief of
      <select
        value={value ?? ''}
        onChange={(e) => onChange(e.target.value)}
        style={{ flex: 1, minWidth: 0, font: 'inherit' }}
      >
        {rasters.map((raster) => (
          <option key={raster.id} value={raster.id}>
            {raster.title}
          </option>
        ))}
      </select>
    </label>
  )
}
