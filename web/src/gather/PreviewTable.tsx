import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { counted, sizeOf } from '../wording'
import type { Corrections, Preview } from '../api/types'

type FieldType = NonNullable<Corrections['types']>[string]
const TYPES: FieldType[] = ['text', 'integer', 'number', 'date', 'boolean']

/** Real rows as they would be read; the type of each field can be corrected. */
export function PreviewTable({
  preview,
  onType,
}: {
  preview: Preview
  onType: (name: string, type: FieldType) => void
}) {
  if (preview.kind === 'raster')
    return (
      <Box sx={{ p: 3, fontSize: 13 }}>
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          {sizeOf({ rows: 0, raster: preview.raster })}, {counted(Number(preview.raster?.bands), 'band')},{' '}
          {String(preview.raster?.colour)}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {String(preview.raster?.type)} · nodata {String(preview.raster?.nodata ?? 'none')}
        </Typography>
      </Box>
    )
  const correctable = preview.encoding != null
  return (
    <Box sx={{ overflow: 'auto' }}>
      <Box
        component="table"
        aria-label="Preview"
        sx={{
          borderCollapse: 'collapse',
          fontSize: 12.5,
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
          '& thead th': { position: 'sticky', top: 0, bgcolor: 'background.paper', zIndex: 1 },
        }}
      >
        <thead>
          <tr>
            {preview.fields.map((field) => (
              <th key={field.name}>
                <div>{field.name}</div>
                {correctable ? (
                  <select
                    value={field.type}
                    aria-label={`Type of ${field.name}`}
                    onChange={(e) => onType(field.name, e.target.value as FieldType)}
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
                <td key={j}>{cell === null ? '' : String(cell)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  )
}
