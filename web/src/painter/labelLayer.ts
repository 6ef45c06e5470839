import type OlMap from 'ol/Map'
import type { FrameState } from 'ol/Map'
import { type At, CanvasLayer } from './canvasLayer'
import { type Box, drawLabels, type LabelLook, type LabelSet } from './labels'

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
export class LabelLayer extends CanvasLayer {
  /** What its labels cover of the canvas. */
  covered: Box[] = []
  private labels: MapLabel[] = []
  private looks: [string, LabelLook][] = []
  private resolution = 1

  /** Show other labels, placed for `resolution` units of the frame to a px; the layers of `looks` lie under one another as they are listed. */
  setLabels(labels: MapLabel[], looks: [string, LabelLook][], resolution: number): void {
    this.resolution = resolution
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

  protected override paint(context: CanvasRenderingContext2D, frame: FrameState, at: At): void {
    const ratio = frame.pixelRatio
    const reach = 700 * ratio
    const stretch = this.resolution / frame.viewState.resolution
    const { width, height } = context.canvas
    this.covered = [...this.looks].reverse().flatMap(([layer, look]) => {
      const placed = this.labels.flatMap((label) => {
        if (label.layer !== layer) return []
        const [dx, dy] = this.moved?.label === label ? this.moved.by : [0, 0]
        const [x, y] = at([label.x + dx, label.y + dy])
        if (x < -reach || y < -reach || x > width + reach || y > height + reach) return []
        const set = this.moved?.label === label ? this.underWay(label.set, this.moved.by) : label.set
        return [{ at: [x, y] as [number, number], set, stretch }]
      })
      return drawLabels(context, placed, look, ratio)
    })
  }

  /** One that is being moved is seen wherever the hand takes it, and its leader still goes to what it names. */
  private underWay({ l, ...set }: LabelSet, [dx, dy]: [number, number]): LabelSet {
    const leader = l && { l: [l[0], l[1], l[2] - dx / this.resolution, l[3] + dy / this.resolution] as typeof l }
    return { ...set, b: undefined, ...leader }
  }
}
