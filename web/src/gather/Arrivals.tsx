import { useEffect, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import { apart, changeUploads, type UploadState } from './arriving'
import { useGather } from './gatherState'
import { ImportPanel } from './ImportPanel'
import { SendFile } from './SendFile'

interface Props {
  onDone: () => void
}

/** Files that were sent and are looked at, each with a preview of its own; or where to send some. */
export function Arrivals({ onDone }: Props) {
  const uploads = useGather((s) => s.uploads)
  const [chosen, setChosen] = useState<string | null>(null)
  const [more, setMore] = useState(false)
  // What was seen to come in is not looked at again: whoever returns sends the next file.
  useEffect(() => () => changeUploads((before) => before.filter(({ done }) => !done)), [])
  const open = uploads.find(({ id }) => id === chosen) ?? uploads[0]
  const rasters = uploads.filter(isRaster)
  const arrived = (upload: UploadState) => {
    changeUploads((before) => [...before.filter(({ done }) => !done), upload])
    setMore(false)
  }
  if (!open || more)
    return (
      <>
        {open && (
          <Box sx={{ px: 3, pt: 1 }}>
            <Button onClick={() => setMore(false)}>Back to {open.preview.title}</Button>
          </Box>
        )}
        <SendFile onUpload={arrived} />
      </>
    )
  return (
    <>
      <Box sx={{ display: 'flex', borderBottom: 1, borderColor: 'line', px: 2, overflowX: 'auto', flexShrink: 0 }}>
        {uploads.map(({ id, preview, also }) => (
          <ButtonBase
            key={id}
            aria-pressed={id === open.id}
            onClick={() => setChosen(id)}
            sx={{
              px: 1.5,
              height: 30,
              fontSize: 12.5,
              fontWeight: id === open.id ? 600 : 400,
              borderBottom: 2,
              borderColor: id === open.id ? 'primary.main' : 'transparent',
              whiteSpace: 'nowrap',
              color: preview.problem ? 'error.main' : 'text.primary',
            }}
          >
            {preview.file}
            {also ? ` and ${also.length} more` : ''}
          </ButtonBase>
        ))}
        {rasters.length > 1 && (
          <Button size="small" onClick={() => changeUploads(together)} sx={{ whiteSpace: 'nowrap' }}>
            The {rasters.length} rasters as one
          </Button>
        )}
        <Button size="small" onClick={() => setMore(true)} sx={{ whiteSpace: 'nowrap' }}>
          More files
        </Button>
      </Box>
      <ImportPanel
        // Each file has a job of its own; the one before is not asked about any more.
        key={open.id}
        upload={open}
        last={uploads.length === 1}
        onUpload={(...next) =>
          changeUploads((before) => before.flatMap((each) => (each.id !== open.id ? [each] : next)))
        }
        onDone={() => uploads.length === 1 && onDone()}
      />
    </>
  )
}

const isRaster = ({ preview }: UploadState) => preview.kind === 'raster'

/** All rasters as one, in the place of the first, which counts where they lie over one another. */
export function together(uploads: readonly UploadState[]): readonly UploadState[] {
  const [first, ...others] = uploads.filter(isRaster)
  if (!first || others.length === 0) return uploads
  const also = [first, ...others].flatMap(apart).slice(1)
  return uploads.flatMap((upload) => (upload.id === first.id ? [{ ...first, also }] : isRaster(upload) ? [] : [upload]))
}
