import { lazy, Suspense } from 'react'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Corrections, Preview } from '../api/types'
import type { Asking } from '../rules/asking'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))
const MOST_VALUES = 40

interface Props {
  upload: string
  preview: Preview
  corrections: Partial<Corrections>
  onChange: (values: Partial<Corrections>) => void
}

/** Which rows of a file are kept, by a condition. */
export function KeptRows({ upload, preview, corrections, onChange }: Props) {
  return (
    <Box sx={{ mt: 1 }}>
      <Typography variant="body2" color="text.secondary">
        Keep only rows where
      </Typography>
      <Suspense fallback={<Box sx={{ height: 48 }} />}>
        <ConditionEditor
          low
          asking={askingUpload(upload, preview, corrections)}
          value={corrections.where ?? ''}
          label="Rows that are kept"
          onChange={(where) => onChange({ where })}
        />
      </Suspense>
    </Box>
  )
}

/** About the first rows of a file that was sent. */
function askingUpload(upload: string, preview: Preview, corrections: Partial<Corrections>): Asking {
  const read = { ...corrections, where: '', fields: null, simplify: null } as Corrections
  return {
    key: JSON.stringify([upload, read]),
    language: async () => ({
      names: preview.names,
      functions: await answered(client.GET('/api/draw/functions', {})),
    }),
    check: (text) =>
      answered(
        client.POST('/api/uploads/{upload_id}/condition', {
          params: { path: { upload_id: upload } },
          body: { corrections: read, text },
        }),
      ),
    values: (field) => Promise.resolve(valuesSeen(preview, field)),
  }
}

/** The values of a field in the rows that are shown, as a condition writes them. */
export function valuesSeen(preview: Preview, field: string): string[] {
  const at = preview.fields.findIndex(({ name }) => name === field)
  const text = preview.fields[at]?.type === 'text'
  const values = new Set(preview.rows.map((row) => row[at]).filter((value) => value !== null && value !== ''))
  return [...values]
    .slice(0, MOST_VALUES)
    .map((value) => (text ? `'${String(value).replaceAll("'", "''")}'` : String(value)))
}
