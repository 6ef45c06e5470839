import type VectorTileSource from 'ol/source/VectorTile'
import type { FrameState } from 'ol/Map'
import BaseTileLayer, { type Options } from 'ol/layer/BaseTile'
import { GatheringRenderer } from './gathering'
import { drawLabel, type LabelLook } from './labels'

/** How the labels of a layer are set, and px from one line to the next. */
export type LabelStyles = Readonly<Record<string, LabelLook & { leading: number }>>

/** Labels from vector tiles, each a point with its words and where they stand beside it. */
export class LabelTileLayer extends BaseTileLayer<VectorTileSource, LabelTileRenderer> {
  constructor(
    options: Options<VectorTileSource>,
    readonly styles: LabelStyles,
    /** Px beyond the edge of the screen from which a label may reach into it. */
    readonly reach: number,
  ) {
    super(options)
  }

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
  protected override reach(): number {
    return this.getLayer().reach
  }

  protected override draw(context: CanvasRenderingContext2D, frame: FrameState): void {
    for (const { shapes, x, y, scale } of this.pieces)
      for (const { feature, places } of shapes) {
        // Editions published before labels followed lines say nothing of a turn.
        const {
          layer,
          text,
          dx,
          dy,
          turn = 0,
          row = -1,
        } = feature.getProperties() as {
          layer: string
          text: string
          dx: number
          dy: number
          turn?: number
          row?: number
        }
        const style = this.getLayer().styles[layer]
        if (!style || !this.getLayer().sees(layer, row)) continue
        const at: [number, number] = [x + scale * (places[0] ?? 0), y + scale * (places[1] ?? 0)]
        text
          .split('\n')
          .forEach((line, i) =>
            drawLabel(context, line, at, [dx, dy + i * style.leading], style, frame.pixelRatio, turn),
          )
      }
  }
}
