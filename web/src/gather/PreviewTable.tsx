import Box from '@mui/material/Box'
import * as limits from '../api/generated/limits'
import type { Corrections, Preview } from '../api/types'
import { EditableText } from '../key/EditableText'
import { RasterPreview } from './RasterPreview'

type FieldType = NonNullable<Corrections['types']>[string]
type Kept = NonNullable<Corrections['fields']>
const TYPES: FieldType[] = ['text', 'integer', 'number', 'date', 'boolean']

interface Props {
  preview: Preview
  corrections: Partial<Corrections>
  /** They are only looked at. */
  locked: boolean
  onChange: (values: Partial<Corrections>) => void
}

/** Real rows as they would be read: which fields are kept, under which names, and the types of those of cells. */
export function PreviewTable({ preview, corrections, locked, onChange }: Props) {
  if (preview.kind === 'raster') return <RasterPreview preview={preview} />
  const all: Kept = preview.fields.map(({ name }) => ({ name, rename: '' }))
  const kept = new Map((corrections.fields ?? all).map((field) => [field.name, field.rename]))
  const keep = (next: Map<string, string>) => {
    const fields = all.filter(({ name }) => next.has(name)).map(({ name }) => ({ name, rename: next.get(name) ?? '' }))
    onChange({ fields: fields.length === all.length && fields.every(({ rename }) => !rename) ? null : fields })
  }
  const toggle = (name: string) => {
    const next = new Map(kept)
    if (!next.delete(name)) next.set(name, '')
    if (next.size > 0) keep(next)
  }
  return (
    <Box sx={{ overflow: 'auto' }}>
      <Box
        component="table"
        aria-label="Preview"
        inert={locked}
        sx={{
          borderCollapse: 'collapse',
          fontSize: 12.5,
          opacity: locked ? 0.6 : 1,
          '& th, & td': {
            borderBottom: 1,
            borderRight: 1,
            borderColor: 'line',
            px: 1.5,
            py: 0.25,
            textAlign: 'left',
            whiteSpace: 'nowrap',
            maxWidth: 220,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          },
          '& .left-out': { color: 'text.secondary', opacity: 0.6 },
          '& thead th': { position: 'sticky', top: 0, bgcolor: 'background.paper', zIndex: 1 },
        }}
      >
        <thead>
          <tr>
            {preview.fields.map((field) => (
              <th key={field.name} className={kept.has(field.name) ? '' : 'left-out'}>
                <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5, minHeight: 24 }}>
                  <input
                    type="checkbox"
                    checked={kept.has(field.name)}
                    aria-label={`Keep ${field.name}`}
                    onChange={() => toggle(field.name)}
                    style={{ width: 16, height: 16, margin: 4 }}
                  />
                  <EditableText
                    label={`Name of ${field.name}`}
                    most={limits.KeptAs.rename.most}
                    value={kept.get(field.name) || field.name}
                    locked={!kept.has(field.name)}
                    onChange={(rename) =>
                      keep(new Map(kept).set(field.name, rename.trim() === field.name ? '' : rename.trim()))
                    }
                    sx={{ fontWeight: 600, fontSize: 12.5, minWidth: 60 }}
                  />
                </Box>
                {preview.correctable ? (
                  <select
                    value={field.type}
                    aria-label={`Type of ${field.name}`}
                    onChange={(e) =>
                      onChange({ types: { ...corrections.types, [field.name]: e.target.value as FieldType } })
                    }
                    style={{
                      font: 'inherit',
                      fontWeight: 400,
                      color: 'inherit',
                      background: 'transparent',
                      border: 0,
                      padding: 0,
                    }}
                  >
                    {TYPES.map((type) => (
                      <option key={type} value={type}>
                        {type}
                      </option>
                    ))}
                  </select>
                ) : (
                  <Box component="span" sx={{ fontWeight: 400, color: 'text.secondary' }}>
                    {field.type}
                  </Box>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {preview.rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, j) => (
                <td key={j} className={kept.has(preview.fields[j]?.name ?? '') ? '' : 'left-out'}>
                  {cell === null ? '' : String(cell)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  )
}
