import MVT from 'ol/format/MVT'
import { inView } from 'ol/layer/Layer'
import type OlMap from 'ol/Map'
import TileLayer from 'ol/layer/Tile'
import XYZ from 'ol/source/XYZ'
import VectorTileSource from 'ol/source/VectorTile'
import type ImageTile from 'ol/ImageTile'
import TileState from 'ol/TileState'
import { postForBytes } from '../api/client'
import type { Dataset, Layer, PictureLook } from '../api/types'
import type { Ink } from '../painter/ink'
import { classOf } from '../painter/blending'
import { type Frame, shownBelow } from '../painter/frame'
import { type Pens, pensFromInk } from '../painter/pens'
import { ShapeTileLayer } from '../painter/shapeTiles'
import type { Place } from './useFrame'

const sources = new Map<string, VectorTileSource>()

const DEEPEST = 18

/** One source per state of the shapes and projection: its tiles never change and are shared by all layers that draw it. */
export function tilesOf(shapes: string, { frame, crs }: Place): VectorTileSource {
  const name = `${shapes} ${crs}`
  let source = sources.get(name)
  if (!source || source.getProjection() !== frame.projection) {
    source = new VectorTileSource({
      format: new MVT(),
      url: `/api/revisions/${shapes}/tiles/{z}/{x}/{y}?crs=${encodeURIComponent(crs)}`,
      projection: frame.projection,
      tileGrid: frame.grid(512, { to: DEEPEST }),
      wrapX: frame.round,
      transition: 0,
    })
    sources.set(name, source)
  }
  return source
}

export type DrawnLayer = ShapeTileLayer | TileLayer<XYZ>

/** What a layer is drawn with on the map: shapes, pictures, or shapes with pictures of them where they are too many. */
export interface DrawnParts {
  shapes: ShapeTileLayer | null
  pictures: TileLayer<XYZ> | null
  /** Units to a px below which there are shapes, where further away there are pictures of them. */
  from: number
}

type Ranged = Pick<Layer, 'scales'> | undefined

/** Let a layer be seen at its scales, and those of its group. */
export function showAtScales({ shapes, pictures, from }: DrawnParts, { frame }: Place, ranged: Ranged[]): void {
  const at = ranged.flatMap((part) => (part?.scales ? [part.scales] : []))
  const closest = Math.max(0, ...at.map(({ closest }) => (closest == null ? 0 : frame.resolutionAt(closest))))
  const farthest = Math.min(
    ...at.map(({ farthest }) => (farthest == null ? Infinity : frame.resolutionAt(farthest))),
    Infinity,
  )
  shapes?.setMinResolution(closest * (1 - ABOUT))
  shapes?.setMaxResolution(Math.min(from, farthest * (1 + ABOUT)))
  pictures?.setMinResolution(Math.max(shapes ? from : 0, closest * (1 - ABOUT)))
  pictures?.setMaxResolution(farthest * (1 + ABOUT))
}
const ABOUT = 1e-6

/** The parts of a layer of shapes that are sent from a level on. */
export function newVectorLayer(layer: Layer, dataset: Dataset, place: Place, level: number): DrawnParts {
  const common = { className: classOf(layer.id), properties: { layerId: layer.id } }
  const from = level > 0 ? shownBelow(level, place.frame) : Infinity
  const source = tilesOf(dataset.shapes, place)
  const shapes = new ShapeTileLayer({ ...common, source, maxResolution: from })
  const pictures = level > 0 ? new TileLayer<XYZ>({ ...common, ...NOTHING_INSTEAD, minResolution: from }) : null
  return { shapes, pictures, from }
}

/** Where a picture is empty nothing is shown, not what another level has there. */
const NOTHING_INSTEAD = { useInterimTilesOnError: false }

/** The parts of a layer of which only pictures are shown; `showPictures` says which. */
export function newPictureLayer(layer: Layer): DrawnParts {
  const properties = { layerId: layer.id }
  const pictures = new TileLayer<XYZ>({
    className: classOf(layer.id),
    properties,
    ...NOTHING_INSTEAD,
  })
  return { shapes: null, pictures, from: Infinity }
}

export function partsOf({ shapes, pictures }: DrawnParts): DrawnLayer[] {
  return [shapes, pictures].filter((part) => part !== null)
}

/** Longer looks are sent beside their address. */
const LONGEST = 3000

/** What of a layer a picture of it alone depends on. */
export function lookOfLayer({ symbology, filter, reading, others }: Layer): PictureLook {
  return { symbology, filter, reading: reading ?? null, others }
}

/** In which state the datasets are that a layer names: pictures of it are others when one of them is changed. */
export function statesOf({ dataset, others }: Layer, datasets: Dataset[]): string {
  return [dataset, ...Object.values(others)].map((id) => datasets.find((each) => each.id === id)?.revision).join('.')
}

/** Pictures are asked for anew where the layer is to look otherwise, or its data are others. */
export function showPictures({ pictures }: DrawnParts, layer: Layer, place: Place, states: string): void {
  const look = `${states} ${JSON.stringify(lookOfLayer(layer))}`
  if (!pictures || pictures.get('look') === look) return
  const begun = pictures.get('begun') as Begun | undefined
  pictures.unset('begun', true)
  pictures.set('look', look, true)
  pictures.set('layer', layer, true)
  pictures.setSource(begun?.look === look ? begun.source : pictureSource(layer, place, states))
}

/** Pictures that are on their way before it is known whether the look can be drawn. */
interface Begun {
  look: string
  source: XYZ
}

/** Ask for the pictures in view at once, while the ink is being worked out that says whether they are to be shown. */
export function beginPictures({ pictures }: DrawnParts, layer: Layer, place: Place, states: string, map: OlMap): void {
  const look = `${states} ${JSON.stringify(lookOfLayer(layer))}`
  const shown = pictures?.get('look') as string | undefined
  const seen = pictures && shown !== undefined && isSeen(pictures, map)
  if (!seen || shown === look || (pictures.get('begun') as Begun | undefined)?.look === look) return
  const source = pictureSource(layer, place, states)
  pictures.set('begun', { look, source } satisfies Begun, true)
  const grid = source.getTileGridForProjection(place.frame.projection)
  const view = map.getView()
  const z = grid.getZForResolution(view.getResolution() ?? 1, source.zDirection)
  const ratio = source.getTilePixelRatio(1)
  grid.forEachTileCoord(view.calculateExtent(map.getSize()), z, ([level, x, y]) => {
    if (level === undefined || x === undefined || y === undefined) return
    source.getTile(level, x, y, ratio, place.frame.projection).load()
  })
}

function isSeen(pictures: TileLayer<XYZ>, map: OlMap): boolean {
  const resolution = map.getView().getResolution()
  return resolution !== undefined && inView(pictures.getLayerState(), map.getView().getState())
}

/** Pictures of a layer as it is now, as fine as the screen. */
function pictureSource(layer: Layer, { frame, crs }: Place, states: string): XYZ {
  const look = JSON.stringify(lookOfLayer(layer))
  const raster = isRaster(layer)
  // The relief of a raster is one and the same at any density; marks are as large on a fine screen, and twice as sharp.
  const ratio = !raster && window.devicePixelRatio > 1 ? 2 : 1
  const side = raster ? 256 : 512
  const long = encodeURIComponent(look).length > LONGEST
  const query = `crs=${encodeURIComponent(crs)}&size=${side * ratio}&ratio=${ratio}&state=${states}`
  const source = new XYZ({
    url: `/api/draw/pictures/${layer.dataset}/{z}/{x}/{y}?${query}${long ? '' : `&look=${encodeURIComponent(look)}`}`,
    projection: frame.projection,
    tileGrid: frame.grid(side, { to: DEEPEST }),
    tilePixelRatio: ratio,
    wrapX: frame.round,
    transition: 0,
    interpolate: true,
  })
  if (long) source.setTileLoadFunction((tile, address) => void postForPicture(tile as ImageTile, address, look))
  return source
}

async function postForPicture(tile: ImageTile, address: string, look: string): Promise<void> {
  try {
    const bytes = await postForBytes(address, JSON.parse(look))
    if (bytes.byteLength === 0) return tile.setState(TileState.EMPTY)
    const image = tile.getImage() as HTMLImageElement
    image.src = URL.createObjectURL(new Blob([bytes], { type: 'image/png' }))
    image.addEventListener('load', () => URL.revokeObjectURL(image.src), { once: true })
  } catch {
    tile.setState(TileState.ERROR)
  }
}

/** Whether a layer is shown as pictures at every zoom: rasters, and what is made of features only by the server. */
export function isPictured(layer: Layer): boolean {
  return isRaster(layer) || layer.reading != null
}

export function isRaster(layer: Layer): boolean {
  return layer.symbology.kind !== 'symbols'
}

/** Put ink on a layer: no tile is fetched, it is only drawn anew. */
export function applyInk(drawn: ShapeTileLayer, ink: Ink, frame: Frame): void {
  if (drawn.get('ink') === ink) return
  drawn.set('ink', ink, true)
  drawn.setPens(pensFromInk(ink, frame))
}

/** Features ringed in brass over everything; where shapes are too many to be sent, they have no ring. */
export function newOverlay(dataset: Dataset, pens: Pens, place: Place, level: number): ShapeTileLayer {
  const over = new ShapeTileLayer({
    className: 'sheet-highlight',
    source: tilesOf(dataset.shapes, place),
    maxResolution: level > 0 ? shownBelow(level, place.frame) : Infinity,
    zIndex: 2000,
  })
  over.setPens(pens)
  return over
}
