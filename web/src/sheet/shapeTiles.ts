import type Tile from 'ol/Tile'
import type VectorRenderTile from 'ol/VectorRenderTile'
import type VectorTileSource from 'ol/source/VectorTile'
import type { Coordinate } from 'ol/coordinate'
import type { FeatureCallback } from 'ol/renderer/vector'
import type { FrameState } from 'ol/Map'
import BaseTileLayer, { type Options } from 'ol/layer/BaseTile'
import CanvasTileLayerRenderer, { type TileLookup } from 'ol/renderer/canvas/TileLayer'
import { buffer, type Extent } from 'ol/extent'
import {
  drawPaths,
  drawSymbols,
  NO_PENS,
  pathAt,
  type Pens,
  type Piece,
  type PlacedSymbol,
  symbolAt,
  symbolsOf,
} from './pens'
import { shapesOf } from './shapes'

/** How far beyond the edge of the screen a symbol may stand and still be seen, in px. */
const REACH = 64

/** Shapes from vector tiles, drawn with pens that can be changed without anything but the picture being made anew.
 *
 * Outlines are handed to the browser once, as paths; new pens only fill them again. The layer's opacity is that of its finished
 * picture, as the server's painter has it: what lies over something else in the same layer does not let it shine through.
 */
export class ShapeTileLayer extends BaseTileLayer<VectorTileSource, ShapeTileRenderer> {
  pens = NO_PENS

  constructor(options: Options<VectorTileSource>) {
    super(options)
  }

  setPens(pens: Pens): void {
    this.pens = pens
    this.changed()
  }

  override createRenderer(): ShapeTileRenderer {
    return new ShapeTileRenderer(this)
  }
}

class ShapeTileRenderer extends CanvasTileLayerRenderer<ShapeTileLayer> {
  private pieces: Piece[] = []
  private symbols: PlacedSymbol[] = []

  /** Tiles a little beyond the edge are asked for too: their symbols may reach over it. */
  override enqueueTiles(frame: FrameState, extent: Extent, z: number, tilesByZ: TileLookup, preload: number): void {
    super.enqueueTiles(frame, buffer(extent, REACH * frame.viewState.resolution), z, tilesByZ, preload)
  }

  override prepareFrame(frame: FrameState): boolean {
    this.pieces = []
    this.symbols = []
    return super.prepareFrame(frame)
  }

  /** The base class calls this for every tile that is seen. Drawing waits until all are known: symbols have one order. */
  protected override drawTile(
    tile: Tile,
    frame: FrameState,
    x: number,
    y: number,
    w: number,
    h: number,
    _gutter: number,
    _transition: boolean,
    rects: Extent[] = [[x, y, x + w, y + h]],
  ): void {
    const source = this.getLayer().getSource()
    if (!source) return
    const asked = tile as VectorRenderTile
    const { projection } = frame.viewState
    const grid = source.getTileGridForProjection(projection)
    const [here = 0] = grid.getTileCoordExtent(asked.tileCoord)
    const [wrapped = 0] = grid.getTileCoordExtent(asked.wrappedTileCoord)
    for (const sourceTile of source.getSourceTiles(frame.pixelRatio, projection, asked)) {
      const [left = 0, , , top = 0] = sourceTile.extent ?? []
      const [px, py] = this.pixelAt([left + here - wrapped, top], frame)
      const scale = (sourceTile.resolution / frame.viewState.resolution) * frame.pixelRatio
      this.pieces.push({ shapes: shapesOf(sourceTile), x: px, y: py, scale, rects })
    }
  }

  protected override postRender(context: CanvasRenderingContext2D, frame: FrameState): void {
    const { pens } = this.getLayer()
    context.canvas.style.opacity = String(frame.layerStatesArray[frame.layerIndex]?.opacity ?? 1)
    context.save()
    context.lineJoin = context.lineCap = 'round'
    for (const piece of this.pieces) drawPaths(context, piece, pens, frame.pixelRatio)
    this.symbols = symbolsOf(this.pieces, pens)
    drawSymbols(context, this.symbols, pens, frame.pixelRatio)
    context.restore()
    super.postRender(context, frame)
  }

  /** Tells of the shape that is seen on top at a place. */
  override forEachFeatureAtCoordinate<T>(
    coordinate: Coordinate,
    frame: FrameState,
    hitTolerance: number,
    callback: FeatureCallback<T>,
  ): T | undefined {
    const { pens } = this.getLayer()
    const context = this.getCanvasContext() as CanvasRenderingContext2D
    const pixel = this.pixelAt(coordinate, frame)
    let shape = symbolAt(this.symbols, pens, pixel, hitTolerance, frame.pixelRatio)
    for (const piece of this.pieces) shape ??= pathAt(context, piece, pens, pixel, hitTolerance, frame.pixelRatio)
    return shape && callback(shape.feature, this.getLayer() as never, null as never)
  }

  private pixelAt([x = 0, y = 0]: Coordinate, { viewState, pixelRatio }: FrameState): [number, number] {
    const [cx = 0, cy = 0] = viewState.center
    const { width, height } = this.getCanvasContext().canvas
    return [
      ((x - cx) / viewState.resolution) * pixelRatio + width / 2,
      ((cy - y) / viewState.resolution) * pixelRatio + height / 2,
    ]
  }
}
