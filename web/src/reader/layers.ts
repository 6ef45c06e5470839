import type ImageTile from 'ol/ImageTile'
import type RenderFeature from 'ol/render/Feature'
import type VectorTile from 'ol/VectorTile'
import MVT from 'ol/format/MVT'
import type BaseLayer from 'ol/layer/Base'
import TileLayer from 'ol/layer/Tile'
import TileState from 'ol/TileState'
import VectorTileSource from 'ol/source/VectorTile'
import XYZ from 'ol/source/XYZ'
import type { EditionPage, PageLayer, PageTiles } from '../api/types'
import { classOf } from '../painter/blending'
import { type Frame, shownBelow } from '../painter/frame'
import { loadIcons } from '../painter/brush'
import { decodeInk } from '../painter/decodeInk'
import { LabelTileLayer } from '../painter/labelTiles'
import { GroupLayer } from '../painter/groupLayer'
import { pensFromInk } from '../painter/pens'
import { ShapeTileLayer } from '../painter/shapeTiles'
import { openArchive, type TileArchive } from './archive'
import { unpacked } from './packed'

const SHAPES = 512
const PICTURES = 256
const LABELS_ABOVE = 1000
/** By so much a scale may miss its limit. */
const ABOUT = 1e-6

/** A layer of the edition on the map, and when it has what it is drawn with. */
export interface PageLayerOnMap {
  layer: PageLayer
  /** Its shapes, where any are drawn live. */
  shapes: ShapeTileLayer | null
  all: BaseLayer[]
  ready: Promise<void>
  /** Draw all features by themselves at all levels, as long as readers choose among them; or as it was published. */
  choosing: (chosen: boolean) => void
}

/** The edition's layers from the bottom up: shapes with their ink, and pictures where there are none or too many. */
export function layersOf(edition: EditionPage, frame: Frame): PageLayerOnMap[] {
  const sources = new Map<string, VectorTileSource>()
  return edition.layers.map((layer, position) => {
    const common = { className: classOf(layer.id), opacity: layer.opacity, zIndex: position + 1 }
    const closest = (layer.closest ?? 0) * (1 - ABOUT)
    const farthest = (layer.farthest ?? Infinity) * (1 + ABOUT)
    const all: BaseLayer[] = []
    const first = Math.max(layer.shapes?.min_zoom ?? 0, layer.drawn_from ?? 0)
    const from = layer.shapes ? shapesBelow(first, layer.pictures, frame) : Infinity
    if (layer.pictures) {
      const minResolution = Math.max(layer.shapes ? from : 0, closest)
      const range = { minResolution, maxResolution: farthest }
      all.push(new TileLayer({ ...common, source: pictures(layer.pictures, frame), ...range }))
    }
    if (!layer.shapes || layer.ink === null)
      return { layer, shapes: null, all, ready: Promise.resolve(), choosing: () => undefined }
    const source = sources.get(layer.shapes.archive) ?? vectorTiles(layer.shapes, frame)
    sources.set(layer.shapes.archive, source)
    const shapes = new ShapeTileLayer({
      ...common,
      source,
      minResolution: closest,
      maxResolution: Math.min(from, farthest),
    })
    const pictured = [...all]
    all.push(shapes)
    const nearest = layer.pictures ? shownBelow(layer.shapes.min_zoom, frame) : Infinity
    const choosing = (chosen: boolean) => {
      shapes.setMaxResolution(Math.min(chosen ? Math.max(nearest, from) : from, farthest))
      for (const each of pictured)
        each.setMinResolution(chosen ? Math.max(nearest, from, closest) : Math.max(from, closest))
    }
    return { layer, shapes, all, ready: inkOf(layer.ink, shapes, frame), choosing }
  })
}

/** What is put on the map, from the bottom up: layers, and groups of them where they stand. */
export function groupedLayers({ groups }: EditionPage, layers: PageLayerOnMap[]): BaseLayer[] {
  const holders = new Map<string, GroupLayer>()
  return layers.flatMap(({ layer, all }, position) => {
    const group = groups.find(({ id }) => id === layer.group)
    if (!group) return all
    const known = holders.get(group.id)
    const holder = known ?? new GroupLayer({ className: `sheet-group sheet-group-${group.id}`, zIndex: position + 1 })
    Object.assign(holder, { blend: group.blend, effects: group.effects })
    holder.setOpacity(group.opacity)
    holders.set(group.id, holder)
    all.forEach((part) => holder.add(part))
    return known ? [] : [holder]
  })
}

/** Units to a px from which on shapes are drawn instead of pictures: always, where there are none of these. */
function shapesBelow(level: number, pictures: PageTiles | null, frame: Frame): number {
  return pictures ? shownBelow(level, frame) : Infinity
}

/** The edition's labels over everything; null where it has none. */
export function labelsOf({ labels }: EditionPage, frame: Frame): LabelTileLayer | null {
  if (!labels) return null
  const source = vectorTiles(labels.tiles, frame)
  // Those of a level stand apart in all views that are closer, and nearer than they should in those that are further away.
  source.zDirection = 1
  return new LabelTileLayer({ className: 'sheet-labels', source, zIndex: LABELS_ABOVE }, labels.styles, labels.reach)
}

async function inkOf(address: string, drawn: ShapeTileLayer, frame: Frame): Promise<void> {
  const answer = await fetch(address)
  if (!answer.ok) throw new Error(`${address}: ${answer.status}`)
  const ink = decodeInk(await unpacked(await answer.arrayBuffer()))
  await loadIcons(ink.header.palette)
  drawn.setPens(pensFromInk(ink, frame))
}

function vectorTiles(
  { archive: address, format: ending, min_zoom: from, max_zoom: to }: PageTiles,
  frame: Frame,
): VectorTileSource {
  const format = new MVT({ layerName: 'in_tile' }) // 'layer' is a property of labels
  const archive = openArchive(address, ending)
  return new VectorTileSource({
    format,
    projection: frame.projection,
    tileGrid: frame.grid(SHAPES, { from, to }),
    wrapX: frame.round,
    transition: 0,
    tileUrlFunction: (tile) => tile.join('/'),
    tileLoadFunction: (tile, place) => {
      const asked = tile as VectorTile<RenderFeature>
      asked.setLoader((extent, _, featureProjection) => {
        void tileAt(archive, place)
          .then((data) => asked.setFeatures(data ? format.readFeatures(data, { extent, featureProjection }) : []))
          .catch(() => asked.setState(TileState.ERROR))
      })
    },
  })
}

function pictures({ archive: address, format, size, min_zoom: from, max_zoom: to }: PageTiles, frame: Frame): XYZ {
  const archive = openArchive(address, format)
  return new XYZ({
    projection: frame.projection,
    tileGrid: frame.grid(PICTURES, { from, to }),
    tilePixelRatio: size / PICTURES,
    wrapX: frame.round,
    transition: 0,
    tileUrlFunction: (tile) => tile.join('/'),
    tileLoadFunction: (tile, place) => {
      void tileAt(archive, place)
        .then((data) => {
          if (!data) return tile.setState(TileState.EMPTY)
          const image = (tile as ImageTile).getImage() as HTMLImageElement
          image.src = URL.createObjectURL(new Blob([data], { type: `image/${format}` }))
          image.addEventListener('load', () => URL.revokeObjectURL(image.src), { once: true })
        })
        .catch(() => tile.setState(TileState.ERROR))
    },
  })
}

function tileAt(archive: TileArchive, place: string): Promise<ArrayBuffer | null> {
  const [z = 0, x = 0, y = 0] = place.split('/').map(Number)
  return archive.tile(z, x, y)
}
