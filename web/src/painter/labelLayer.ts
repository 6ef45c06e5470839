import Layer from 'ol/layer/Layer'
import type OlMap from 'ol/Map'
import type { FrameState } from 'ol/Map'
import { drawLabels, type LabelLook, type LabelSet } from './labels'

/** A label where it stands in the map's frame, and the box around its text, px from there. */
export interface MapLabel {
  layer: string
  feature: number
  text: string
  x: number
  y: number
  box: number[]
  hand: boolean
  set: LabelSet
}

/** The label under a place of the frame on a map. */
export function labelUnder(map: OlMap, place: number[]): MapLabel | null {
  const resolution = map.getView().getResolution() ?? 1
  const on = map
    .getLayers()
    .getArray()
    .find((layer) => layer instanceof LabelLayer)
  return on?.labelAt(place as [number, number], resolution) ?? null
}

/** The labels of a map that is being made. */
export class LabelLayer extends Layer {
  private readonly canvas = document.createElement('canvas')
  /** A bare canvas would be drawn on by the layer above. */
  private readonly holder = document.createElement('div')
  private labels: MapLabel[] = []
  private looks: [string, LabelLook][] = []

  /** Show other labels; the layers of `looks` lie under one another as they are listed. */
  setLabels(labels: MapLabel[], looks: [string, LabelLook][]): void {
    this.labels = labels
    this.looks = looks
    this.changed()
  }

  /** Show one label somewhere else for a while; null puts it back. */
  private moved: { label: MapLabel; by: [number, number] } | null = null

  setMoved(moved: { label: MapLabel; by: [number, number] } | null): void {
    this.moved = moved
    this.changed()
  }

  /** The label under a place of the frame, the topmost first; `resolution` is units of the frame to a px. */
  labelAt([x, y]: [number, number], resolution: number): MapLabel | null {
    const slack = 3
    const order = new Map(this.looks.map(([layer], at) => [layer, at]))
    const under = this.labels.filter(({ x: own, y: high, box: [left = 0, top = 0, right = 0, bottom = 0] }) => {
      const dx = (x - own) / resolution
      const dy = (high - y) / resolution
      return dx >= left - slack && dx <= right + slack && dy >= top - slack && dy <= bottom + slack
    })
    return under.sort((a, b) => (order.get(a.layer) ?? 0) - (order.get(b.layer) ?? 0))[0] ?? null
  }

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
    const { resolution, center } = frame.viewState
    const [cx = 0, cy = 0] = center
    for (const [layer, look] of [...this.looks].reverse()) {
      const placed = this.labels.flatMap((label) => {
        if (label.layer !== layer) return []
        const [dx, dy] = this.moved?.label === label ? this.moved.by : [0, 0]
        const at: [number, number] = [
          ((label.x + dx - cx) / resolution) * ratio + w / 2,
          ((cy - label.y - dy) / resolution) * ratio + h / 2,
        ]
        const reach = 700 * ratio
        if (at[0] < -reach || at[1] < -reach || at[0] > w + reach || at[1] > h + reach) return []
        return [{ at, set: label.set }]
      })
      drawLabels(context, placed, look, ratio)
    }
    return holder
  }
}
