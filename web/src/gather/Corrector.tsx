import * as limits from '../api/generated/limits'
import type { Corrections, Preview } from '../api/types'
import { Choice, Labelled } from '../bench/Labelled'
import { EditableText } from '../key/EditableText'
import { counted } from '../wording'
import { CellCorrections } from './CellCorrections'
import { KeptRows } from './KeptRows'
import { Simplify } from './Simplify'
import { WhereItLies } from './WhereItLies'

interface Props {
  upload: string
  preview: Preview
  corrections: Partial<Corrections>
  onChange: (corrections: Partial<Corrections>) => void
}

/** Every guess about a file and every choice of what is kept of it, before anything is. */
export function Corrector({ upload, preview, corrections, onChange }: Props) {
  const set = (values: Partial<Corrections>) => onChange({ ...corrections, ...values })
  const layers = preview.layers.filter(({ rows }) => rows > 0)
  return (
    <>
      <Labelled label="Title">
        <EditableText
          label="Title of the dataset"
          most={limits.Corrections.title.most}
          value={preview.title}
          onChange={(title) => set({ title })}
          sx={{ fontWeight: 600 }}
        />
      </Labelled>
      <Labelled label="Source">
        <EditableText
          label="Source of the dataset"
          most={limits.Corrections.source.most}
          value={corrections.source ?? preview.source}
          onChange={(source) => set({ source })}
          sx={{ border: 1, borderColor: 'line', px: 1, bgcolor: 'raised' }}
        />
      </Labelled>
      {layers.length > 1 && (
        <Choice
          label={preview.format === 'spreadsheet' ? 'Read sheet' : 'Read layer'}
          value={preview.layer ?? ''}
          options={layers.map(({ name, rows }) => [name, `${name} (${counted(rows, 'row')})`] as const)}
          // What was chosen of one layer says nothing of another, but for whose it is.
          onChange={(layer) => onChange({ layer, ...(corrections.source ? { source: corrections.source } : {}) })}
        />
      )}
      {preview.correctable && <CellCorrections upload={upload} preview={preview} onChange={set} />}
      {(preview.located || preview.kind === 'raster') && (
        <WhereItLies key={preview.crs} upload={upload} preview={preview} corrections={corrections} onChange={set} />
      )}
      {preview.kind === 'raster' && (
        <Labelled label="No data is">
          <EditableText
            label="Value of pixels that hold nothing"
            value={String(corrections.nodata ?? preview.raster?.nodata ?? '')}
            placeholder="nothing said"
            onChange={(text) => set({ nodata: text.trim() && Number.isFinite(Number(text)) ? Number(text) : null })}
            sx={{ border: 1, borderColor: 'line', px: 1, bgcolor: 'raised' }}
          />
        </Labelled>
      )}
      {preview.kind !== 'raster' && (
        <KeptRows upload={upload} preview={preview} corrections={corrections} onChange={set} />
      )}
      {(preview.kind === 'areas' || preview.kind === 'lines') && preview.tolerance != null && (
        <Simplify upload={upload} corrections={corrections} proposed={preview.tolerance} onChange={set} />
      )}
    </>
  )
}
