import VectorTileLayer from 'ol/layer/VectorTile'
import CanvasVectorTileLayerRenderer from 'ol/renderer/canvas/VectorTileLayer'
import type ExecutorGroup from 'ol/render/canvas/ExecutorGroup'
import type { FrameState } from 'ol/Map'
import { getUid } from 'ol/util'

class ExactTileRenderer extends CanvasVectorTileLayerRenderer {
  override postRender(context: CanvasRenderingContext2D, frame: FrameState): void {
    const layer = this.getLayer()
    const clip = layer.get('whole') ? noClip : clipToWholePixels
    for (const tile of this.renderedTiles) {
      // A tile as it is drawn knows the drawing orders of every layer; the type of the list does not say so.
      const orders = (tile as unknown as { executorGroups: Record<string, ExecutorGroup[]> }).executorGroups
      for (const order of orders[getUid(layer)] ?? []) order.clip = clip
    }
    super.postRender(context, frame)
  }
}

/** Two tiles that both smooth the edge between them leave a hairline. Cut at the same whole pixel, they leave none, and
 * nothing is missing: their shapes reach over the edge. */
function clipToWholePixels(
  this: ExecutorGroup,
  context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D,
  transform: number[],
): void {
  const corners = (this.getClipCoords(transform as never) ?? []).map(Math.round)
  context.beginPath()
  for (let i = 0; i < corners.length; i += 2) context.lineTo(corners[i] ?? 0, corners[i + 1] ?? 0)
  context.clip()
}

/** A symbol is in one tile only, and may reach over its edge. */
function noClip(): void {
  // Everything is drawn.
}

/** Vector tiles without hairlines between them; with the property `whole`, none of their symbols is cut. */
export class ExactTileLayer extends VectorTileLayer {
  override createRenderer(): CanvasVectorTileLayerRenderer {
    return new ExactTileRenderer(this, {})
  }
}
