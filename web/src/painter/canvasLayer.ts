import Layer from 'ol/layer/Layer'
import type { FrameState } from 'ol/Map'

/** Where a place of the map's frame is on the canvas. */
export type At = (place: readonly number[]) => [number, number]

/** A layer that draws all that it has anew on a canvas of its own. */
export abstract class CanvasLayer extends Layer {
  private readonly canvas = document.createElement('canvas')
  /** A bare canvas would be drawn on by the layer above. */
  private readonly holder = document.createElement('div')

  protected abstract paint(context: CanvasRenderingContext2D, frame: FrameState, at: At): void

  override render(frame: FrameState | null): HTMLElement | null {
    if (!frame) return null
    const { canvas, holder } = this
    if (!canvas.parentElement) {
      holder.className = this.getClassName()
      holder.append(canvas)
    }
    Object.assign(holder.style, { position: 'absolute', width: '100%', height: '100%', pointerEvents: 'none' })
    const [width = 0, height = 0] = frame.size
    const ratio = frame.pixelRatio
    const [w, h] = [Math.round(width * ratio), Math.round(height * ratio)]
    if (canvas.width !== w || canvas.height !== h) [canvas.width, canvas.height] = [w, h]
    Object.assign(canvas.style, { position: 'absolute', width: `${width}px`, height: `${height}px` })
    const context = canvas.getContext('2d')
    if (!context) return holder
    context.clearRect(0, 0, w, h)
    const { resolution, center, projection } = frame.viewState
    const [cx = 0, cy = 0] = center
    const [west = 0, , east = 0] = projection.getExtent() as number[] | []
    const world = projection.canWrapX() ? east - west : 0
    this.paint(context, frame, ([x = 0, y = 0]) => {
      // On a map that goes round and round, the one that is nearest to what is seen.
      const there = world > 0 ? x + Math.round((cx - x) / world) * world : x
      return [((there - cx) / resolution) * ratio + w / 2, ((cy - y) / resolution) * ratio + h / 2]
    })
    return holder
  }
}
