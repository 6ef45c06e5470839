import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { answered, client } from '../api/client'
import type { Dataset, Sheet } from '../api/types'
import { useDatasets } from '../sheet/queries'
import { useSheet } from '../sheet/store'

const NAMES = ['plain', 'light', 'dark', 'relief', 'picture'] as const
type Name = (typeof NAMES)[number]

/** What each ground looks like, as a small picture: land on it, and for relief a hill in the light. */
const LOOKS: Record<Name, { ground: string; land: string; edge: string }> = {
  plain: { ground: 'transparent', land: '#c9c2b0', edge: '#5d5a52' },
  light: { ground: '#eef0ed', land: '#c9c2b0', edge: '#8b877c' },
  dark: { ground: '#23282d', land: '#8e8a7d', edge: '#11151a' },
  relief: { ground: '#eef0ed', land: '#c9c2b0', edge: 'none' },
  picture: { ground: '#7f97a0', land: '#6f7f58', edge: 'none' },
}

/** Grounds that are made from a raster: of which colours, the layer that is one, and what it is called. */
const OF_RASTERS = {
  relief: { colours: ['one band'], layer: 'ground-relief', kind: 'hillshade', wanted: 'a raster of heights' },
  picture: {
    colours: ['rgb', 'rgba', 'palette'],
    layer: 'ground-picture',
    kind: 'picture',
    wanted: 'a picture from above',
  },
} as const
type Laid = keyof typeof OF_RASTERS
const LAID = Object.keys(OF_RASTERS) as Laid[]

function isLaid(name: Name): name is Laid {
  return name in OF_RASTERS
}

/** Grounds that are chosen with one press: colours, or the shade or the colours of a raster below everything. */
export function Grounds() {
  const { edit } = useSheet.getState()
  const datasets = useDatasets()
  const layers = useSheet((s) => s.document?.layers)
  const [chosen, setChosen] = useState<Partial<Record<Laid, string>>>({})
  const rastersFor = (name: Laid) =>
    datasets.filter(({ raster }) => OF_RASTERS[name].colours.some((colour) => colour === raster?.colour))
  const rasterOf = (name: Laid) =>
    chosen[name] ??
    layers?.find((layer) => layer.symbology.kind === OF_RASTERS[name].kind)?.dataset ??
    rastersFor(name)[0]?.id ??
    null
  const laidOn = LAID.find((name) => layers?.some((layer) => layer.id === OF_RASTERS[name].layer))
  const lay = useMutation({
    mutationFn: (asked: { ground: Name; raster: string | null }) => {
      const document = useSheet.getState().document as Sheet
      return answered(client.POST('/api/draw/ground', { body: { document, ...asked } }))
    },
    onSuccess: (laid) => edit('ground', (draft) => void Object.assign(draft, laid)),
  })
  const lacking = (name: Name) => isLaid(name) && rasterOf(name) === null
  const press = (name: Name) => lay.mutate({ ground: name, raster: isLaid(name) ? rasterOf(name) : null })
  return (
    <Box sx={{ px: 3, pt: 1, pb: 0.5 }}>
      <Box
        role="group"
        aria-label="Lay the map on"
        sx={{ display: 'grid', gridTemplateColumns: `repeat(${NAMES.length}, 1fr)`, gap: 1 }}
      >
        {NAMES.map((name) => (
          <ButtonBase
            key={name}
            disabled={lay.isPending || lacking(name)}
            title={isLaid(name) && lacking(name) ? `Bring in ${OF_RASTERS[name].wanted} first` : undefined}
            onClick={() => press(name)}
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
      {laidOn && rastersFor(laidOn).length > 1 && (
        <MadeOf
          words={laidOn === 'relief' ? 'Relief of' : 'Picture'}
          rasters={rastersFor(laidOn)}
          value={rasterOf(laidOn)}
          onChange={(id) => {
            setChosen({ ...chosen, [laidOn]: id })
            lay.mutate({ ground: laidOn, raster: id })
          }}
        />
      )}
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
      {name === 'picture' && (
        <>
          <path d="M12 17 L20 9 L27 14 L19 20Z" fill="#9a9a5e" />
          <path d="M27 14 L33 10 L39 14 L32 20Z" fill="#59694a" />
        </>
      )}
    </svg>
  )
}

interface MadeOfProps {
  words: string
  rasters: Dataset[]
  value: string | null
  onChange: (id: string) => void
}

function MadeOf({ words, rasters, value, onChange }: MadeOfProps) {
  return (
    <label style={{ display: 'flex', alignItems: 'center', gap: 8, fontSize: 12.5, marginTop: 6 }}>
      {words}
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
