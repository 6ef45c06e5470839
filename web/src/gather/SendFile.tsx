import { type DragEvent, useRef, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { csrfToken, wordsOf } from '../api/client'
import type { Preview } from '../api/types'
import type { UploadState } from './ImportPanel'

/** Send a file; `onShare` hears how much of it is there. */
export function sendFile(
  file: File,
  onShare: (share: number) => void = () => {},
): Promise<{ id: string; preview: Preview }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest()
    request.upload.onprogress = (e) => onShare(e.total ? e.loaded / e.total : 0)
    request.onloadend = () => {
      let body: unknown = null
      try {
        body = JSON.parse(request.responseText)
      } catch {
        body = null
      }
      if (request.status === 200) resolve(body as { id: string; preview: Preview })
      else if (request.status === 0) reject(new Error('The file could not be sent. Is the server there?'))
      else reject(new Error(wordsOf(body, request.status)))
    }
    request.open('POST', '/api/uploads')
    request.setRequestHeader('X-CSRFToken', csrfToken())
    const form = new FormData()
    form.append('file', file)
    request.send(form)
  })
}

/** Where a file is dropped or chosen. */
export function SendFile({ onUpload }: { onUpload: (upload: UploadState) => void }) {
  const input = useRef<HTMLInputElement>(null)
  const [share, setShare] = useState<number | null>(null)
  const [over, setOver] = useState(false)
  const [trouble, setTrouble] = useState<string | null>(null)

  function send(file: File | undefined) {
    if (!file) return
    setTrouble(null)
    setShare(0)
    sendFile(file, setShare)
      .then((sent) => onUpload({ ...sent, corrections: {}, file }))
      .catch((error: Error) => setTrouble(error.message))
      .finally(() => setShare(null))
  }

  const dropped = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    send(event.dataTransfer.files[0])
  }
  return (
    <Box
      onDragOver={(e) => {
        e.preventDefault()
        setOver(true)
      }}
      onDragLeave={() => setOver(false)}
      onDrop={dropped}
      sx={{
        m: 3,
        flex: 1,
        border: '1px dashed',
        borderColor: over ? 'primary.main' : 'text.secondary',
        bgcolor: over ? 'tint' : 'transparent',
        display: 'flex',
        flexDirection: 'column',
        alignItems: 'center',
        justifyContent: 'center',
        gap: 2,
        minHeight: 120,
      }}
    >
      <Typography variant="body2">Drop a CSV, GeoJSON, zipped Shapefile or GeoTIFF here</Typography>
      <Button variant="contained" onClick={() => input.current?.click()} disabled={share !== null}>
        Choose a file
      </Button>
      <input
        ref={input}
        type="file"
        hidden
        data-testid="file"
        accept=".csv,.tsv,.txt,.geojson,.json,.zip,.tif,.tiff"
        onChange={(e) => send(e.target.files?.[0])}
      />
      {share !== null && (
        <LinearProgress variant="determinate" value={share * 100} sx={{ width: 220 }} aria-label="Sending" />
      )}
      {trouble && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main', maxWidth: 520, textAlign: 'center' }}>
          {trouble}
        </Typography>
      )}
    </Box>
  )
}
