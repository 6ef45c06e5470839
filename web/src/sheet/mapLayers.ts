import MVT from 'ol/format/MVT'
import TileLayer from 'ol/layer/Tile'
import type VectorTileLayer from 'ol/layer/VectorTile'
import XYZ from 'ol/source/XYZ'
import VectorTileSource from 'ol/source/VectorTile'
import type OlMap from 'ol/Map'
import Stroke from 'ol/style/Stroke'
import Circle from 'ol/style/Circle'
import Style from 'ol/style/Style'
import { createXYZ } from 'ol/tilegrid'
import type { Blend, Dataset, Layer } from '../api/types'
import type { Ink } from './ink'
import { ExactTileLayer } from './exactTiles'
import { styleFromInk } from './styles'

const sources = new Map<string, VectorTileSource>()

/** One source per data revision: its tiles never change and are shared by all layers that draw it. */
export function shapesOf(revision: string): VectorTileSource {
  let source = sources.get(revision)
  if (!source) {
    source = new VectorTileSource({
      format: new MVT(),
      url: `/api/revisions/${revision}/tiles/{z}/{x}/{y}`,
      tileGrid: createXYZ({ tileSize: 512, maxZoom: 18 }),
      transition: 0,
    })
    sources.set(revision, source)
  }
  return source
}

export type DrawnLayer = VectorTileLayer | TileLayer<XYZ>

/** A class name of its own gives every layer a canvas of its own, which is what the browser blends as a group. */
export function classOf(layerId: string): string {
  return `sheet-layer sheet-layer-${layerId}`
}

export function newVectorLayer(layerId: string, revision: string, kind: string): VectorTileLayer {
  const made = new ExactTileLayer({
    className: classOf(layerId),
    source: shapesOf(revision),
    renderMode: 'vector',
    renderBuffer: 120,
    style: () => undefined,
  })
  made.set('layerId', layerId)
  made.set('whole', kind === 'points')
  return made
}

export function newRasterLayer(layer: Layer): TileLayer<XYZ> {
  const made = new TileLayer({ className: classOf(layer.id), source: rasterSource(layer) })
  made.set('layerId', layer.id)
  return made
}

export function rasterSource(layer: Layer): XYZ {
  const symbology = encodeURIComponent(JSON.stringify(layer.symbology))
  return new XYZ({
    url: `/api/draw/rasters/${layer.dataset}/{z}/{x}/{y}?symbology=${symbology}`,
    maxZoom: 18,
    transition: 0,
    interpolate: true,
  })
}

export function isRaster(layer: Layer): boolean {
  return ['hillshade', 'raster-ramp', 'picture'].includes(layer.symbology.kind ?? 'single')
}

/** Put ink on a layer: no tile is fetched, it is only drawn anew. */
export function applyInk(drawn: VectorTileLayer, ink: Ink): void {
  if (drawn.get('ink') === ink) return
  drawn.set('ink', ink)
  drawn.setStyle(styleFromInk(ink))
}

/** Blending is done by the browser between the layers' canvases, with the W3C's formulas. */
export function applyBlend(map: OlMap, layerId: string, blend: Blend): void {
  const element = map.getViewport()?.querySelector<HTMLElement>(`.sheet-layer-${CSS.escape(layerId)}`)
  if (element) element.style.mixBlendMode = blend
}

/** The chosen feature, ringed in brass over everything. */
export function newHighlight(dataset: Dataset, row: number): VectorTileLayer {
  const ring = (width: number, color: string) => new Stroke({ color, width })
  const styles = [
    new Style({
      stroke: ring(5, 'rgba(255,255,255,0.9)'),
      image: new Circle({ radius: 9, stroke: ring(5, 'rgba(255,255,255,0.9)') }),
    }),
    new Style({ stroke: ring(2.5, '#8a6514'), image: new Circle({ radius: 9, stroke: ring(2.5, '#8a6514') }) }),
  ]
  return new ExactTileLayer({
    className: 'sheet-highlight',
    source: shapesOf(dataset.revision),
    zIndex: 2000,
    style: (feature) => (Number(feature.getId()) === row ? styles : undefined),
  })
}
