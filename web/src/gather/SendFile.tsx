import { type DragEvent, useRef, useState } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import LinearProgress from '@mui/material/LinearProgress'
import Typography from '@mui/material/Typography'
import { csrfToken, wordsOf } from '../api/client'
import type { Preview } from '../api/types'
import type { UploadState } from './arriving'
import { withShapefilesPacked } from './shapefileParts'

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

interface Props {
  onUpload: (upload: UploadState) => void
}

/** Where files are dropped or chosen, or GeoJSON is pasted. */
export function SendFile({ onUpload }: Props) {
  const input = useRef<HTMLInputElement>(null)
  const [share, setShare] = useState<number | null>(null)
  const [over, setOver] = useState(false)
  const [troubles, setTroubles] = useState<string[]>([])
  const [pasting, setPasting] = useState(false)
  const [text, setText] = useState('')

  // One after the other, so that each is looked at as soon as it is there.
  async function send(chosen: readonly File[]) {
    setTroubles([])
    const files = await withShapefilesPacked(chosen)
    for (const [i, file] of files.entries()) {
      setShare(i / files.length)
      try {
        const sent = await sendFile(file, (part) => setShare((i + part) / files.length))
        onUpload({ ...sent, corrections: {}, file })
      } catch (error) {
        const words = (error as Error).message
        setTroubles((before) => [...before, words.includes(file.name) ? words : `${file.name}: ${words}`])
      }
    }
    setShare(null)
  }

  const dropped = (event: DragEvent) => {
    event.preventDefault()
    setOver(false)
    void send([...event.dataTransfer.files])
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
        gap: 1,
        minHeight: 120,
        overflow: 'auto',
        textAlign: 'center',
        p: 2,
      }}
    >
      <Typography variant="body2">Drop one file or several here</Typography>
      <Typography variant="caption" color="text.secondary" sx={{ maxWidth: 560 }}>
        CSV, TSV, XLSX, XLS, ODS, JSON records · GeoJSON, TopoJSON, Shapefile (zipped, or all its parts), GeoPackage,
        FlatGeobuf, GeoParquet · KML, KMZ, GML, GPX · GeoTIFF
      </Typography>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button variant="contained" onClick={() => input.current?.click()} disabled={share !== null}>
          Choose files
        </Button>
        <Button variant="outlined" onClick={() => setPasting(!pasting)} aria-expanded={pasting}>
          Paste GeoJSON or a table
        </Button>
      </Box>
      <input
        ref={input}
        type="file"
        hidden
        multiple
        data-testid="file"
        onChange={(e) => {
          void send([...(e.target.files ?? [])])
          e.target.value = ''
        }}
      />
      {pasting && (
        <Box sx={{ width: '100%', maxWidth: 560 }}>
          <InputBase
            multiline
            fullWidth
            rows={4}
            autoFocus
            value={text}
            onChange={(e) => setText(e.target.value)}
            inputProps={{ 'aria-label': 'GeoJSON or a table as text', spellCheck: false }}
            sx={{ border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, fontSize: 12, fontFamily: 'mono' }}
          />
          <Button disabled={!text.trim() || share !== null} onClick={() => void send([asFile(text)])}>
            Look at it
          </Button>
        </Box>
      )}
      {share !== null && (
        <LinearProgress variant="determinate" value={share * 100} sx={{ width: 220 }} aria-label="Sending" />
      )}
      {troubles.map((trouble) => (
        <Typography key={trouble} role="alert" variant="body2" sx={{ color: 'error.main', maxWidth: 520 }}>
          {trouble}
        </Typography>
      ))}
    </Box>
  )
}

/** Pasted text under a name that says what it is. */
export function asFile(text: string): File {
  return new File([text], /^\s*[{[]/.test(text) ? 'pasted.geojson' : 'pasted.csv')
}
