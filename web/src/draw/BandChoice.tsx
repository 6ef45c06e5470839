import type { Layer } from '../api/types'
import { Choice } from '../bench/Labelled'
import { useSheet } from '../sheet/store'

/** Which band of a raster is drawn. */
export function BandChoice({ layer, band, bands }: { layer: Layer; band: number; bands: number }) {
  return (
    <Choice
      label="Band"
      value={String(band)}
      options={Array.from({ length: bands }, (_, i) => [String(i + 1), `${i + 1} of ${bands}`] as const)}
      onChange={(chosen) =>
        useSheet
          .getState()
          .editLayer(layer.id, 'raster-band', (draft) => void Object.assign(draft.symbology, { band: Number(chosen) }))
      }
    />
  )
}
