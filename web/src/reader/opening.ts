import type OlMap from 'ol/Map'
import TileLayer from 'ol/layer/Tile'
import type { PageLayerOnMap } from './layers'
import { isPointing } from './pointing'

/** Levels by which a press leads closer. */
const CLOSER = 2

/** Let several things that are seen as one be opened: a press on them leads closer, where they part. */
export function opensOn(map: OlMap, layers: PageLayerOnMap[]): void {
  const gathered = layers.filter(({ layer }) => layer.opens).flatMap(({ all }) => all)
  if (gathered.length === 0) return
  map.on('singleclick', ({ pixel, coordinate }) => {
    if (isPointing(map)) return
    const pressed = gathered.some((part) => {
      // Their pictures are empty wherever nothing is.
      const data = part instanceof TileLayer && part.isVisible(map.getView()) ? part.getData(pixel) : null
      return data !== null && !(data instanceof DataView) && (data[3] ?? 0) > 0
    })
    const view = map.getView()
    const zoom = view.getZoom() ?? 0
    if (pressed && zoom < view.getMaxZoom()) view.animate({ center: coordinate, zoom: zoom + CLOSER, duration: 250 })
  })
}
