import { answered, client } from '../api/client'
import type { Layer, Symbology } from '../api/types'
import { useSheet } from '../sheet/store'

/** Draw a raster in another ink, as a cartographer would begin with it; the band stays. */
export async function inkRaster(layer: Layer, kind: string): Promise<void> {
  const band = 'band' in layer.symbology ? layer.symbology.band : 1
  const symbology = await answered(client.POST('/api/draw/inked', { body: { dataset: layer.dataset, kind, band } }))
  useSheet.getState().editLayer(layer.id, 'raster-kind', (draft) => void (draft.symbology = symbology as Symbology))
}
