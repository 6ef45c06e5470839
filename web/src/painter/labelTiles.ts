import type VectorTileSource from 'ol/source/VectorTile'
import type { FrameState } from 'ol/Map'
import BaseTileLayer, { type Options } from 'ol/layer/BaseTile'
import { GatheringRenderer } from './gathering'
import { type Box, drawLabels, keptApart, type LabelLook, type LabelSet, type PlacedLabel } from './labels'

export type LabelStyles = Readonly<Record<string, LabelLook>>

/** Labels from vector tiles, each a point with what is drawn there. */
export class LabelTileLayer extends BaseTileLayer<VectorTileSource, LabelTileRenderer> {
  constructor(
    options: Options<VectorTileSource>,
    readonly styles: LabelStyles,
    /** Px beyond the edge of the screen from which a label may reach into it. */
    readonly reach: number,
  ) {
    super(options)
  }

  /** What its labels cover of the canvas. */
  covered: Box[] = []

  /** Whether the label of a feature is seen. */
  private seen: ((layer: string, row: number) => boolean) | null = null

  /** Show the labels of some features alone. */
  setSeen(seen: (layer: string, row: number) => boolean): void {
    this.seen = seen
    this.changed()
  }

  sees(layer: string, row: number): boolean {
    return this.seen?.(layer, row) ?? true
  }

  override createRenderer(): LabelTileRenderer {
    return new LabelTileRenderer(this)
  }
}

class LabelTileRenderer extends GatheringRenderer<LabelTileLayer> {
  private readonly read = new Map<string, LabelSet>()

  protected override reach(): number {
    return this.getLayer().reach
  }

  protected override draw(context: CanvasRenderingContext2D, frame: FrameState): void {
    const styles = Object.entries(this.getLayer().styles)
    const byLayer = new Map<string, (PlacedLabel & { layer: string })[]>()
    for (const { shapes, x, y, scale } of this.pieces)
      for (const { feature, places } of shapes) {
        const { layer, set, row } = feature.getProperties() as { layer: string; set: string; row: number }
        if (!this.getLayer().sees(layer, row)) continue
        const labels = byLayer.get(layer) ?? []
        const at: [number, number] = [x + scale * (places[0] ?? 0), y + scale * (places[1] ?? 0)]
        labels.push({ layer, at, set: this.setOf(set), stretch: scale / frame.pixelRatio })
        byLayer.set(layer, labels)
      }
    const all = styles.flatMap(([layer]) => byLayer.get(layer) ?? [])
    // Farther off than the first level there is no room for what was placed there.
    const shown = this.isBeyondLevels(frame) ? keptApart(all, frame.pixelRatio) : all
    // The layer that is listed first lies on top.
    this.getLayer().covered = styles.reverse().flatMap(([layer, style]) => {
      const own = shown.filter((label) => label.layer === layer)
      return drawLabels(context, own, style, frame.pixelRatio)
    })
  }

  private isBeyondLevels(frame: FrameState): boolean {
    const grid = this.getLayer().getSource()?.getTileGrid()
    return !!grid && frame.viewState.resolution > grid.getResolution(grid.getMinZoom()) * 1.001
  }

  /** Each is read once: a map that is dragged draws them again and again. */
  private setOf(text: string): LabelSet {
    const known = this.read.get(text)
    if (known) return known
    const read = JSON.parse(text) as LabelSet
    this.read.set(text, read)
    return read
  }
}
