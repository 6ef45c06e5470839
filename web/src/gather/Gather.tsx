import { SideTabs } from '../bench/SideTabs'
import { Arrivals } from './Arrivals'
import { changeUploads, type UploadState } from './arriving'
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

/** Get the data in, in the right place, and know what it is. */
export function Gather() {
  const part = useGather((s) => s.part)
  const setPart = (next: Part) => useGather.setState({ part: next })
  /** What was fetched is looked at like a file that was sent. */
  const arrived = (upload: UploadState) => {
    changeUploads((before) => [upload, ...before])
    setPart('import')
  }
  return (
    <SideTabs label="Gather" parts={PARTS} value={part} onChange={setPart}>
      {part === 'library' && <LibraryPanel onImport={() => setPart('import')} onTable={(id) => showRows(id)} />}
      {part === 'import' && <Arrivals onDone={() => setPart('library')} />}
      {part === 'service' && <ServicePanel onArrive={arrived} />}
      {part === 'store' && <StorePanel onArrive={arrived} />}
      {part === 'join' && <JoinPanel onDone={() => setPart('library')} />}
      {part === 'places' && <PlacesPanel onDone={() => setPart('library')} />}
      {part === 'table' && <TablePanel />}
    </SideTabs>
  )
}
