import { useState } from 'react'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { moveAlong } from '../course/tabs'
import type { UploadState } from './ImportPanel'
import { Arrivals } from './Arrivals'
import { type Part, showRows, useGather } from './gatherState'
import { JoinPanel } from './JoinPanel'
import { LibraryPanel } from './LibraryPanel'
import { PlacesPanel } from './PlacesPanel'
import { ServicePanel } from './ServicePanel'
import { StorePanel } from './StorePanel'
import { TablePanel } from '../table/TablePanel'

const PARTS = {
  library: 'Library',
  import: 'Bring in a file',
  service: 'From a service',
  store: 'Ask the store',
  join: 'Join',
  places: 'Find places',
  table: 'Table',
} as const satisfies Record<Part, string>
const NAMES = Object.keys(PARTS) as Part[]
const tabId = (part: Part) => `gather-${part}`

/** Get the data in, in the right place, and know what it is. */
export function Gather() {
  const part = useGather((s) => s.part)
  const setPart = (next: Part) => useGather.setState({ part: next })
  const [uploads, setUploads] = useState<readonly UploadState[]>([])
  /** What was fetched is looked at like a file that was sent. */
  const arrived = (upload: UploadState) => {
    setUploads((before) => [upload, ...before])
    setPart('import')
  }
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '124px minmax(0, 1fr)', height: '100%' }}>
      <Box
        role="tablist"
        aria-orientation="vertical"
        aria-label="Gather"
        onKeyDown={(e) => moveAlong(e, NAMES, part, setPart, tabId)}
        sx={{ borderRight: 1, borderColor: 'line', py: 1 }}
      >
        {NAMES.map((name) => (
          <ButtonBase
            key={name}
            role="tab"
            id={tabId(name)}
            aria-selected={name === part}
            aria-controls="gather-part"
            tabIndex={name === part ? 0 : -1}
            onClick={() => setPart(name)}
            sx={{
              display: 'block',
              width: '100%',
              textAlign: 'left',
              px: 3,
              py: 1,
              fontSize: 13,
              fontWeight: name === part ? 600 : 400,
              borderLeft: 2,
              borderColor: name === part ? 'primary.main' : 'transparent',
              '&:hover': { bgcolor: 'tint' },
            }}
          >
            {PARTS[name]}
          </ButtonBase>
        ))}
      </Box>
      <Box
        id="gather-part"
        role="tabpanel"
        aria-labelledby={tabId(part)}
        sx={{ minHeight: 0, minWidth: 0, overflow: 'hidden', display: 'flex', flexDirection: 'column' }}
      >
        {part === 'library' && <LibraryPanel onImport={() => setPart('import')} onTable={(id) => showRows(id)} />}
        {part === 'import' && <Arrivals uploads={uploads} onUploads={setUploads} onDone={() => setPart('library')} />}
        {part === 'service' && <ServicePanel onArrive={arrived} />}
        {part === 'store' && <StorePanel onArrive={arrived} />}
        {part === 'join' && <JoinPanel onDone={() => setPart('library')} />}
        {part === 'places' && <PlacesPanel onDone={() => setPart('library')} />}
        {part === 'table' && <TablePanel />}
      </Box>
    </Box>
  )
}
