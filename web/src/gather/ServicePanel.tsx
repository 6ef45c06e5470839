import { type FormEvent, useState } from 'react'
import { useMutation, useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Service } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { JobLine } from '../publish/JobLine'
import { counted } from '../wording'
import { type Area, AreaChoice, boxOf } from './AreaChoice'
import { useFetching } from './fetching'
import type { UploadState } from './arriving'

const FIELD = { border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 28, fontSize: 13 } as const

/** Data from the address of a service: features, pictures in tiles, or GeoJSON. */
export function ServicePanel({ onArrive }: { onArrive: (upload: UploadState) => void }) {
  const [address, setAddress] = useState('')
  const allowed = useQuery({
    queryKey: ['services'],
    queryFn: () => answered(client.GET('/api/services')),
    staleTime: Infinity,
  })
  const look = useMutation({
    mutationFn: (asked: string) => answered(client.POST('/api/services/look', { body: { address: asked } })),
  })
  const send = (event: FormEvent) => {
    event.preventDefault()
    if (address.trim()) look.mutate(address.trim())
  }
  const { hosts = [], addresses = [] } = allowed.data ?? {}
  return (
    <Box sx={{ overflow: 'auto', p: 3, display: 'flex', flexDirection: 'column', gap: 2 }}>
      <Box component="form" onSubmit={send} sx={{ display: 'flex', gap: 1 }}>
        <InputBase
          value={address}
          onChange={(e) => setAddress(e.target.value)}
          placeholder="https://…"
          inputProps={{ 'aria-label': 'Address of the service', spellCheck: false }}
          sx={{ ...FIELD, flex: 1, maxWidth: 560 }}
        />
        <Button type="submit" variant="contained" disabled={!address.trim() || look.isPending}>
          {look.isPending ? 'Asking …' : 'Look what it has'}
        </Button>
      </Box>
      {!look.data && (
        <Typography variant="body2" color="text.secondary">
          The first page or a collection of an OGC API with features; GeoJSON; pictures by TileJSON, the capabilities of
          a WMTS, or an address with {'{z}'}, {'{x}'} and {'{y}'}.{' '}
          {hosts.length > 0 && `Allowed here: ${hosts.join(', ')}.`}
          {hosts.length + addresses.length === 0 &&
            allowed.data &&
            'No service is allowed here yet: see GREYLATCH_SERVICES.'}
        </Typography>
      )}
      {!look.data &&
        addresses.map((each) => (
          <Box key={each}>
            <Button
              variant="outlined"
              onClick={() => {
                setAddress(each)
                look.mutate(each)
              }}
            >
              {each}
            </Button>
          </Box>
        ))}
      {look.error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {look.error.message}
        </Typography>
      )}
      {look.data && look.variables && (
        <Offered key={look.variables} service={look.data} address={look.variables} onArrive={onArrive} />
      )}
    </Box>
  )
}

interface OfferedProps {
  service: Service
  address: string
  onArrive: (upload: UploadState) => void
}

/** What a service has, what of it is wanted, and the press that fetches it. */
function Offered({ service, address, onArrive }: OfferedProps) {
  const { collections, layers, file } = service
  const [name, setName] = useState(collections[0]?.id ?? layers[0]?.id ?? '')
  const [area, setArea] = useState<Area>(layers.length > 0 ? { kind: 'box', bounds: null } : { kind: 'everywhere' })
  const [where, setWhere] = useState('')
  const [level, setLevel] = useState<string | null>(null)
  const { fetch, job, busy, error } = useFetching(onArrive)
  const collection = collections.find(({ id }) => id === name)
  const layer = layers.find(({ id }) => id === name)
  const box = boxOf(area)
  const levels = useQuery({
    queryKey: ['levels', address, name, box?.join()],
    queryFn: () =>
      answered(client.POST('/api/services/levels', { body: { address, layer: name, bounds: box ? [...box] : [] } })),
    enabled: layer !== undefined && box !== null,
    staleTime: Infinity,
  })
  const offered = levels.data ?? []
  const chosen = offered.find((each) => each.name === level) ?? offered.find(({ proposed }) => proposed)
  const missing = area.kind !== 'everywhere' && !box
  const press = () => {
    if (file) fetch({ kind: 'geojson', address })
    else if (collection)
      fetch({ kind: 'features', address, collection: collection.id, bounds: box ? [...box] : null, where })
    else if (layer && box && chosen)
      fetch({ kind: 'tiles', address, layer: layer.id, level: chosen.name, bounds: [...box] })
  }
  return (
    <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1.5, maxWidth: 640 }}>
      {file && <Typography variant="body2">GeoJSON of {service.host}.</Typography>}
      {(collections.length > 0 || layers.length > 0) && (
        <Choice
          label={layers.length > 0 ? 'Layer' : 'Collection'}
          value={name}
          options={[...collections, ...layers].map(({ id, title }): [string, string] => [id, title])}
          onChange={setName}
        />
      )}
      <Typography variant="body2" color="text.secondary">
        {[
          collection?.description ?? layer?.description,
          collection?.credit ?? layer?.credit,
          collection?.licence,
          layer?.crs,
        ]
          .filter(Boolean)
          .join(' · ')}
      </Typography>
      {!file && <AreaChoice area={area} onArea={setArea} {...(layer ? {} : { everywhere: 'all of it' })} />}
      {collection?.filtered && (
        <Labelled label="Only where" wide>
          <InputBase
            value={where}
            onChange={(e) => setWhere(e.target.value)}
            placeholder="a condition in CQL2, which the service applies"
            inputProps={{ 'aria-label': 'Only features where', spellCheck: false }}
            sx={{ ...FIELD, flex: 1, fontFamily: 'mono' }}
          />
        </Labelled>
      )}
      {layer && offered.length > 0 && chosen && (
        <Choice
          label="Detail"
          value={chosen.name}
          options={offered.map(({ name: each, tiles }): [string, string] => [
            each,
            `level ${each}, ${counted(tiles, 'tile')}`,
          ])}
          onChange={setLevel}
        />
      )}
      {(error ?? levels.error) && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {(error ?? levels.error)?.message}
        </Typography>
      )}
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Button variant="contained" disabled={busy || missing || (layer !== undefined && !chosen)} onClick={press}>
          Fetch and look at it
        </Button>
        {layer && (
          <Typography variant="caption" color="text.secondary">
            {chosen && `${chosen.width.toLocaleString('en')} × ${chosen.height.toLocaleString('en')} pixels. `}
            The pictures become a raster of your library: maps with it ask the service no more.
          </Typography>
        )}
      </Box>
      {job && <JobLine job={job} />}
    </Box>
  )
}
