import { attach, dragsFiles, droppedPictures } from '../table/attaching'
import { labelUnder } from '../painter/labelLayer'
import { GroupLayer, isSeen } from '../painter/groupLayer'
import type BaseLayer from 'ol/layer/Base'
import TileLayer from 'ol/layer/Tile'
import type TileSource from 'ol/source/Tile'
import OlMap from 'ol/Map'
import View from 'ol/View'
import Zoom from 'ol/control/Zoom'
import { defaults } from 'ol/interaction/defaults'
import { fromLonLat } from 'ol/proj'
import { answered, client } from '../api/client'
import type { Layer, Sheet } from '../api/types'
import { shown } from '../painter/extent'
import { type Frame, levelOf, viewOptions } from '../painter/frame'
import { levelBelow, quarterBelow, roundedOut } from './levels'
import { isRaster, lookOfLayer } from './mapLayers'
import { placePressed } from './mapBridge'
import { drawsRows } from './read'
import { useSheet } from './store'
import { type Place, placesIn } from './useFrame'

/** The map of a sheet in its frame, without any layer yet. It opens on the sheet's view or, where `whole`, on all of the map. */
export function newMap(target: HTMLElement, { frame, crs }: Place, document: Sheet | null, whole: boolean): OlMap {
  const start = document?.view
  const map = new OlMap({
    target,
    pixelRatio: Math.max(1, window.devicePixelRatio),
    interactions: defaults({ altShiftDragRotate: false, pinchRotate: false }),
    controls: [new Zoom({ zoomInTipLabel: 'Closer', zoomOutTipLabel: 'Further' })],
    view: new View({
      ...viewOptions(frame),
      center: frame.round ? fromLonLat([start?.lon ?? 0, shown(start?.lat ?? 0)]) : middleOf(frame),
      resolution: frame.resolution(start?.zoom ?? 2),
      smoothExtentConstraint: false,
    }),
  })
  const follow = () => {
    const level = quarterBelow(levelOf(map.getView(), frame))
    const around = roundedOut(map.getView().calculateExtent(map.getSize()), frame.resolution(levelBelow(level)))
    // The same numbers stay the same array: nobody who reads them hears of it.
    useSheet.setState(({ seen }) => ({ level, seen: seen.join() === around.join() ? seen : around }))
  }
  follow()
  map.on('moveend', follow)
  map.on('loadstart', () => target.setAttribute('data-idle', 'false'))
  map.on('loadend', () => target.setAttribute('data-idle', 'true'))
  map.on('rendercomplete', () =>
    target.setAttribute('data-drawn', String(Number(target.getAttribute('data-drawn') ?? 0) + 1)),
  )
  map.on(
    'singleclick',
    (event) =>
      placePressed(event.coordinate) ||
      (useSheet.getState().stage === 'letter' && labelUnder(map, event.coordinate) !== null) ||
      void chooseAt(map, crs, event.pixel, event.coordinate, (event.originalEvent as PointerEvent).shiftKey),
  )
  // Of the map, not of what holds it: that one stays when the map is made anew.
  const viewport: HTMLElement | undefined = map.getViewport()
  viewport?.addEventListener('dragover', (event) => dragsFiles(event.dataTransfer) && event.preventDefault())
  viewport?.addEventListener('drop', (event) => {
    event.preventDefault()
    void dropAt(map, crs, event)
  })
  if (!frame.round) keepGround(map, frame, crs)
  if (document && (whole || !frame.round || unset(document))) void open(map, crs, document, whole)
  return map
}

/** Choose the feature that is seen at a place, on whatever layer; none where there is none. Or one more of the chosen layer. */
async function chooseAt(map: OlMap, crs: string, pixel: number[], place: number[], more: boolean): Promise<void> {
  let hit: [string, number] | null = null
  let above = -Infinity
  map.forEachFeatureAtPixel(
    pixel,
    (shape, on) => {
      const id = on.get('layerId') as string | undefined
      if (id && shape.getId() !== undefined) {
        hit = [id, Number(shape.getId())]
        above = on.getZIndex() ?? 0
      }
      return hit !== null
    },
    { layerFilter: (layer) => layer instanceof GroupLayer || layer.get('layerId') !== undefined },
  )
  const covering = await inPictures(map, crs, place, above)
  if (covering === OPENED) return
  const pressed = covering ?? (hit as [string, number] | null)
  const { choose, chooseToo, layerId } = useSheet.getState()
  if (more) {
    if (pressed?.[0] === layerId) chooseToo(pressed[1])
    return
  }
  choose(pressed ? pressed[0] : layerId, pressed ? pressed[1] : null)
}

/** Attach pictures that were dropped onto a feature to it. */
async function dropAt(map: OlMap, crs: string, event: DragEvent): Promise<void> {
  const files = droppedPictures(event.dataTransfer)
  const pixel = map.getEventPixel(event)
  const before = useSheet.getState().fid
  if (files.length === 0) return
  useSheet.setState({ fid: null })
  await chooseAt(map, crs, pixel, map.getCoordinateFromPixel(pixel), false)
  const { fid, layerId, document } = useSheet.getState()
  const layer = document?.layers.find(({ id }) => id === layerId)
  if (fid !== null && layer) await attach(layer.dataset, files, { fid })
  else {
    useSheet.setState({ fid: before, trouble: 'Drop pictures onto a feature, or onto a row of the table.' })
  }
}

/** Several things were seen as one, and the map went to where they are. */
const OPENED = 'opened'

/** The feature at a place of layers that are shown as pictures, whose shapes only the server has: of those that lie above others. */
async function inPictures(
  map: OlMap,
  crs: string,
  [x = 0, y = 0]: number[],
  above: number,
): Promise<[string, number] | typeof OPENED | null> {
  const resolution = map.getView().getResolution() ?? 1
  const shown = map
    .getAllLayers()
    .flatMap((layer) => (!(layer instanceof GroupLayer) ? [layer] : layer.getVisible() ? layer.members : []))
    .filter((candidate) => isSeen(candidate, map) && candidate.get('layer') && (candidate.getZIndex() ?? 0) > above)
    .sort((a, b) => (b.getZIndex() ?? 0) - (a.getZIndex() ?? 0))
  for (const shownLayer of shown) {
    const layer = shownLayer.get('layer') as Layer
    // A cell or a dot is no row of the data that could be chosen.
    const clusters = layer.symbology.kind === 'clusters'
    if ((isRaster(layer) && !clusters) || !drawsRows(layer)) continue
    const params = { path: { dataset_id: layer.dataset } }
    // What is gathered at a level is seen as it is in the tiles that are shown, however they are drawn out.
    const body = {
      look: lookOfLayer(layer),
      x,
      y,
      resolution: clusters ? resolutionOf(shownLayer, resolution) : resolution,
      crs,
    }
    const { fid, box } = await answered(client.POST('/api/draw/shapes/{dataset_id}/at', { params, body }))
    if (fid !== null) return [layer.id, fid]
    if (box) {
      map.getView().fit(box, { padding: [60, 60, 60, 60], duration: 250, minResolution: resolution / 64 })
      return OPENED
    }
  }
  return null
}

/** Units to a px of the tiles that a layer shows at so many units to a px of the screen. */
function resolutionOf(layer: BaseLayer, resolution: number): number {
  const source = layer instanceof TileLayer ? (layer.getSource() as TileSource | null) : null
  const grid = source?.getTileGrid()
  return grid && source ? grid.getResolution(grid.getZForResolution(resolution, source.zDirection)) : resolution
}

/** Whether there is a map, and nobody has said where it opens. */
const unset = ({ layers, view: { lon, lat, zoom } }: Sheet) => layers.length > 0 && lon === 0 && lat === 0 && zoom === 2

async function open(map: OlMap, crs: string, document: Sheet, whole: boolean): Promise<void> {
  const { lon, lat } = document.view
  const place = whole || unset(document) ? null : await placesIn(crs).to(lon, lat)
  if (place) {
    map.getView().setCenter(place)
    return
  }
  const { box } = await answered(client.POST('/api/draw/extent', { body: document })).catch(() => ({ box: null }))
  if (box && map.getTarget()) map.getView().fit(box, { padding: [24, 24, 24, 24] })
}

/** A scale bar says how long the ground is where the map is being looked at, and an arrow where north is: that is asked for wherever it comes
    to rest. */
function keepGround(map: OlMap, frame: Frame, crs: string): void {
  map.on('moveend', () => {
    const [x = 0, y = 0] = map.getView().getCenter() ?? []
    void placesIn(crs)
      .from(x, y)
      .then((place) => {
        if (!place) return
        Object.assign(frame, { metres: place.metres, north: place.north })
        map.render()
      })
  })
}

function middleOf({ extent: [left = 0, bottom = 0, right = 0, top = 0] }: Frame): number[] {
  return [(left + right) / 2, (bottom + top) / 2]
}
