import type VectorTileSource from 'ol/source/VectorTile'
import type { Coordinate } from 'ol/coordinate'
import type { FeatureCallback } from 'ol/renderer/vector'
import type { FrameState } from 'ol/Map'
import BaseTileLayer, { type Options } from 'ol/layer/BaseTile'
import { GatheringRenderer } from './gathering'
import {
  drawPaths,
  drawSymbols,
  pathAt,
  type PlacedSymbol,
  seenShapes,
  type SeenShape,
  symbolAt,
  symbolsOf,
} from './drawing'
import { NO_PENS, type Pens } from './pens'
import { PointOrder, stampAll } from './stamps'

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

  /** The shapes that are seen, each once, with the middle of what is seen of it in px of the screen. */
  seen(pixelRatio: number): SeenShape[] {
    return this.getRenderer()?.seen(pixelRatio) ?? []
  }

  override createRenderer(): ShapeTileRenderer {
    return new ShapeTileRenderer(this)
  }
}

class ShapeTileRenderer extends GatheringRenderer<ShapeTileLayer> {
  /** Where symbols stand; null while nobody asked. */
  private symbols: PlacedSymbol[] | null = null
  private readonly order = new PointOrder()
  /** Those of what is seen at the scale of the last picture. */
  private pens = NO_PENS

  protected override reach(): number {
    return this.pens.reach
  }

  override prepareFrame(frame: FrameState): boolean {
    this.symbols = null
    const { pens } = this.getLayer()
    this.pens = pens.at?.(frame.viewState.resolution) ?? pens
    return super.prepareFrame(frame)
  }

  protected override draw(context: CanvasRenderingContext2D, frame: FrameState): void {
    const { pens } = this
    context.lineJoin = 'round'
    const origin = this.pixelAt([0, 0], frame)
    for (const piece of this.pieces) drawPaths(context, piece, pens, frame.pixelRatio, origin)
    const many = this.order.points(this.pieces, pens)
    if (many && stampAll(context, many, pens, frame.pixelRatio)) return
    this.symbols = symbolsOf(this.pieces, pens)
    drawSymbols(context, this.symbols, pens, frame.pixelRatio)
  }

  seen(pixelRatio: number): SeenShape[] {
    const { width, height } = this.getCanvasContext().canvas
    return seenShapes(this.pieces, this.pens, width, height, pixelRatio)
  }

  /** Tells of the shape that is seen on top at a place. */
  override forEachFeatureAtCoordinate<T>(
    coordinate: Coordinate,
    frame: FrameState,
    _: number,
    callback: FeatureCallback<T>,
  ): T | undefined {
    const { pens } = this
    const context = this.getCanvasContext() as CanvasRenderingContext2D
    const pixel = this.pixelAt(coordinate, frame)
    this.symbols ??= symbolsOf(this.pieces, pens)
    let shape = symbolAt(this.symbols, pens, pixel, frame.pixelRatio)
    for (const piece of this.pieces) shape ??= pathAt(context, piece, pens, pixel, frame.pixelRatio)
    return shape && callback(shape.feature, this.getLayer() as never, null as never)
  }
}
