import MVT from 'ol/format/MVT'
import TileLayer from 'ol/layer/Tile'
import XYZ from 'ol/source/XYZ'
import VectorTileSource from 'ol/source/VectorTile'
import type { Dataset, Layer } from '../api/types'
import type { Ink } from '../painter/ink'
import { classOf } from '../painter/blending'
import { pensFromInk, ringAround } from '../painter/pens'
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

export function newVectorLayer(layerId: string, shapes: string, place: Place): ShapeTileLayer {
  const made = new ShapeTileLayer({ className: classOf(layerId), source: tilesOf(shapes, place) })
  made.set('layerId', layerId)
  return made
}

export function newRasterLayer(layer: Layer, place: Place): TileLayer<XYZ> {
  const made = new TileLayer({ className: classOf(layer.id), source: rasterSource(layer, place) })
  made.set('layerId', layer.id)
  return made
}

export function rasterSource(layer: Layer, { frame, crs }: Place): XYZ {
  const symbology = encodeURIComponent(JSON.stringify(layer.symbology))
  return new XYZ({
    url: `/api/draw/rasters/${layer.dataset}/{z}/{x}/{y}?symbology=${symbology}&crs=${encodeURIComponent(crs)}`,
    projection: frame.projection,
    tileGrid: frame.grid(256, { to: DEEPEST }),
    wrapX: frame.round,
    transition: 0,
    interpolate: true,
  })
}

export function isRaster(layer: Layer): boolean {
  return ['hillshade', 'raster-ramp', 'picture'].includes(layer.symbology.kind ?? 'single')
}

/** Put ink on a layer: no tile is fetched, it is only drawn anew. */
export function applyInk(drawn: ShapeTileLayer, ink: Ink): void {
  if (drawn.get('ink') === ink) return
  drawn.set('ink', ink, true)
  drawn.setPens(pensFromInk(ink))
}

/** The chosen feature, ringed in brass over everything. */
export function newHighlight(dataset: Dataset, chosen: number, place: Place): ShapeTileLayer {
  const made = new ShapeTileLayer({
    className: 'sheet-highlight',
    source: tilesOf(dataset.shapes, place),
    zIndex: 2000,
  })
  made.setPens(ringAround(chosen))
  return made
}
