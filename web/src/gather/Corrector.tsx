import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import { useState } from 'react'
import type { Corrections, Preview } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { numericNames } from '../fields'
import { EditableText } from '../key/EditableText'

const ENCODINGS = ['utf-8', 'utf-8-sig', 'cp1252', 'latin_1', 'cp1250', 'cp1251', 'utf-16', 'cp437', 'mac_roman']
const DELIMITERS = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['\t', 'tab'],
  ['|', 'bar'],
] as const
const NOWHERE = ' '

interface Props {
  preview: Preview
  corrections: Partial<Corrections>
  onChange: (corrections: Partial<Corrections>) => void
}

/** Every guess about a file, each to be corrected before anything is kept. */
export function Corrector({ preview, corrections, onChange }: Props) {
  const set = (values: Partial<Corrections>) => onChange({ ...corrections, ...values })
  const delimited = preview.encoding != null
  const encodings = [...new Set([preview.encoding ?? 'utf-8', ...ENCODINGS])]
  const columns = [[NOWHERE, 'no coordinates'], ...numericNames(preview.fields).map((name) => [name, name])] as [
    string,
    string,
  ][]
  const place = (values: { x?: string; y?: string }) => {
    const x = values.x ?? preview.x ?? NOWHERE
    const y = values.y ?? preview.y ?? NOWHERE
    if (x === NOWHERE && y === NOWHERE) set({ x: null, y: null, located: false })
    else
      set({
        x: x === NOWHERE ? null : x,
        y: y === NOWHERE ? null : y,
        located: x !== NOWHERE && y !== NOWHERE ? null : false,
      })
  }
  return (
    <>
      <Labelled label="Title">
        <EditableText
          label="Title of the dataset"
          value={preview.title}
          onChange={(title) => set({ title })}
          sx={{ fontWeight: 600 }}
        />
      </Labelled>
      <Labelled label="Source">
        <EditableText
          label="Source of the dataset"
          value={corrections.source ?? ''}
          onChange={(source) => set({ source })}
          sx={{ border: 1, borderColor: 'line', px: 1, bgcolor: 'raised' }}
        />
      </Labelled>
      {delimited && (
        <>
          <Choice
            label="Encoding"
            value={preview.encoding ?? 'utf-8'}
            options={encodings.map((headed) => [headed, headed] as const)}
            onChange={(encoding) => set({ encoding })}
          />
          <Choice
            label="Delimiter"
            value={preview.delimiter ?? ','}
            options={DELIMITERS as unknown as [string, string][]}
            onChange={(delimiter) => set({ delimiter, types: {}, x: null, y: null })}
          />
          <Choice
            label="First row"
            value={preview.header ? 'names' : 'data'}
            options={
              [
                ['names', 'names the columns'],
                ['data', 'is data'],
              ] as const
            }
            onChange={(headed) => set({ header: headed === 'names', types: {}, x: null, y: null })}
          />
          <Choice
            label="Odd rows"
            value={(preview.ragged ?? 'refuse') as 'refuse' | 'pad'}
            options={
              [
                ['refuse', 'are refused, with their lines'],
                ['pad', 'are filled or cut'],
              ] as const
            }
            onChange={(ragged) => set({ ragged })}
          />
          <Choice
            label="x, easting"
            value={preview.located ? (preview.x ?? NOWHERE) : NOWHERE}
            options={columns}
            onChange={(x) => place({ x })}
          />
          <Choice
            label="y, northing"
            value={preview.located ? (preview.y ?? NOWHERE) : NOWHERE}
            options={columns}
            onChange={(y) => place({ y })}
          />
        </>
      )}
      {(preview.located || preview.kind === 'raster') && (
        <CrsField
          key={preview.crs}
          preview={preview}
          // A raster says itself where it lies, unless it says nothing.
          open={preview.kind !== 'raster' || preview.crs == null || corrections.crs != null}
          onChange={(crs) => set({ crs })}
        />
      )}
    </>
  )
}

interface CrsProps {
  preview: Preview
  open: boolean
  onChange: (crs: string | null) => void
}

function CrsField({ preview, open, onChange }: CrsProps) {
  const [text, setText] = useState('')
  return (
    <>
      <Labelled label="Projection">
        <Typography variant="body2" noWrap title={preview.crs ?? ''}>
          {preview.crs ?? 'not known'}
        </Typography>
      </Labelled>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0, mb: 0.5 }}>
        {preview.crs_reason}
      </Typography>
      {open && (
        <Labelled label="Another">
          <InputBase
            value={text}
            placeholder="EPSG:32626"
            onChange={(e) => setText(e.target.value)}
            onKeyDown={(e) => e.key === 'Enter' && onChange(text.trim() || null)}
            inputProps={{ 'aria-label': 'Another projection' }}
            sx={{ flex: 1, fontSize: 12.5, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
          />
          <Button variant="outlined" onClick={() => onChange(text.trim() || null)}>
            Use
          </Button>
        </Labelled>
      )}
    </>
  )
}
