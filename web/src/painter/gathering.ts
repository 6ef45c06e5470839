import type Tile from 'ol/Tile'
import type VectorRenderTile from 'ol/VectorRenderTile'
import type VectorTileSource from 'ol/source/VectorTile'
import type { Coordinate } from 'ol/coordinate'
import type { FrameState } from 'ol/Map'
import type BaseTileLayer from 'ol/layer/BaseTile'
import CanvasTileLayerRenderer, { type TileLookup } from 'ol/renderer/canvas/TileLayer'
import { buffer, type Extent } from 'ol/extent'
import type { Piece } from './drawing'
import { shapesOf } from './shapes'

/** Gathers what all tiles in view hold before anything of it is drawn: what stands over the edge of a tile has one order. */
export abstract class GatheringRenderer<
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- a layer names its renderer, and this is that renderer
  L extends BaseTileLayer<VectorTileSource, any>,
> extends CanvasTileLayerRenderer {
  /** Of this kind, as whoever made the renderer knows. */
  override getLayer(): L & ReturnType<CanvasTileLayerRenderer['getLayer']> {
    return super.getLayer() as never
  }

  protected pieces: Piece[] = []

  /** How far beyond the edge of the screen a mark may stand and still be seen, in px. */
  protected abstract reach(): number

  /** Draw what was gathered. */
  protected abstract draw(context: CanvasRenderingContext2D, frame: FrameState): void

  /** Tiles a little beyond the edge are asked for too: their marks may reach over it. */
  override enqueueTiles(frame: FrameState, extent: Extent, z: number, tilesByZ: TileLookup, preload: number): void {
    super.enqueueTiles(frame, buffer(extent, this.reach() * frame.viewState.resolution), z, tilesByZ, preload)
  }

  override prepareFrame(frame: FrameState): boolean {
    this.pieces = []
    return super.prepareFrame(frame)
  }

  /** The base class calls this for every tile that is seen. */
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
    context.canvas.style.opacity = String(frame.layerStatesArray[frame.layerIndex]?.opacity ?? 1)
    context.save()
    this.draw(context, frame)
    context.restore()
    super.postRender(context, frame)
  }

  protected pixelAt([x = 0, y = 0]: Coordinate, { viewState, pixelRatio }: FrameState): [number, number] {
    const [cx = 0, cy = 0] = viewState.center
    const { width, height } = this.getCanvasContext().canvas
    return [
      ((x - cx) / viewState.resolution) * pixelRatio + width / 2,
      ((cy - y) / viewState.resolution) * pixelRatio + height / 2,
    ]
  }
}
