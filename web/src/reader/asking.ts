import type { PageLayerOnMap } from './layers'
import type { LabelTileLayer } from '../painter/labelTiles'
import { sifted, type Pens } from '../painter/pens'
import { nothingSaid, type Said } from './address'
import type { Columns } from './columns'
import { type Mask, size, together } from './sift'

/** A layer among whose features readers choose: each thing that they choose by is a part, and all parts have to take a feature. */
export class ChosenLayer {
  readonly parts = new Map<string, Mask>()
  private strength: Float32Array | null = null
  private combined: Mask | null = null
  private readonly taken: Uint8Array
  private readonly pens: Pens

  constructor(
    readonly onMap: PageLayerOnMap,
    readonly columns: Columns,
  ) {
    let most = 0
    for (const fid of columns.fid) if (fid > most) most = fid
    this.taken = new Uint8Array(most + 1)
    this.pens = onMap.shapes?.pens as Pens
  }

  get id(): string {
    return this.onMap.layer.id
  }

  set(part: string, mask: Mask | null): void {
    if (mask) this.parts.set(part, mask)
    else this.parts.delete(part)
    this.combined = null
  }

  /** How faint each row is drawn; null: none is. */
  fade(strength: Float32Array | null): void {
    this.strength = strength
  }

  /** The rows that everything takes. */
  get mask(): Mask {
    return (this.combined ??= together(this.columns.n, [...this.parts.values()]))
  }

  /** The rows that everything else takes. */
  without(part: string): Mask {
    return together(
      this.columns.n,
      [...this.parts].flatMap(([name, mask]) => (name === part ? [] : [mask])),
    )
  }

  sees(fid: number): boolean {
    return this.parts.size === 0 || this.taken[fid] === 1
  }

  /** Have it drawn as chosen. */
  draw(): void {
    const { onMap, columns, mask, taken, strength } = this
    const chosen = this.parts.size > 0
    onMap.choosing(chosen)
    if (!chosen) return onMap.shapes?.setPens(this.pens)
    for (let row = 0; row < columns.n; row++) taken[columns.fid[row] as number] = mask[row] ?? 0
    onMap.shapes?.setPens(sifted(this.pens, taken, strength && byFid(strength, columns, taken.length)))
  }
}

function byFid(values: Float32Array, { fid }: Columns, n: number): Float32Array {
  const placed = new Float32Array(n)
  for (let row = 0; row < values.length; row++) placed[fid[row] as number] = values[row] as number
  return placed
}

/** All that a reader has chosen. Whoever shows something of it hears of changes, once for each picture. */
export class Asking {
  said: Said = nothingSaid()
  readonly layers = new Map<string, ChosenLayer>()
  labels: LabelTileLayer | null = null
  /** What lets go of a choice of its own, at a press for all of them. */
  readonly lettingGo: (() => void)[] = []
  private readonly hearing: (() => void)[] = []
  private readonly changed = new Set<ChosenLayer>()
  private due = false

  add(layer: ChosenLayer): void {
    this.layers.set(layer.id, layer)
  }

  /** Hear of every change, after it is drawn. */
  hear(listener: () => void): void {
    this.hearing.push(listener)
  }

  /** One part of what is chosen in a layer is something else; null: it takes all. */
  choose(layer: string, part: string, mask: Mask | null): void {
    const chosen = this.layers.get(layer)
    if (!chosen) return
    chosen.set(part, mask)
    this.changed.add(chosen)
    this.tell()
  }

  /** Something is different that those who listen show. */
  tell(): void {
    if (this.due) return
    this.due = true
    requestAnimationFrame(() => this.settle())
  }

  /** Draw what is different, now. */
  settle(): void {
    this.due = false
    for (const layer of this.changed) layer.draw()
    if (this.changed.size > 0) this.labels?.setSeen((id, fid) => this.layers.get(id)?.sees(fid) ?? true)
    this.changed.clear()
    this.hearing.forEach((listener) => listener())
  }

  /** How many features are shown of how many, over all layers among which something is chosen. */
  counted(): { shown: number; of: number } | null {
    const layers = [...this.layers.values()].filter(({ parts }) => parts.size > 0)
    if (layers.length === 0) return null
    return {
      shown: layers.reduce((sum, layer) => sum + size(layer.mask), 0),
      of: layers.reduce((sum, { columns }) => sum + columns.n, 0),
    }
  }
}
