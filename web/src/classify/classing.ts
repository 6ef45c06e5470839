import type { Classing, InkHeader, Layer } from '../api/types'
import { queries } from '../api/queries'
import { startingQuery } from '../sheet/queries'
import { useSheet } from '../sheet/store'

/** How the layer's numbers become classes, or null where it has none. */
export function classingOf(layer: Layer | null): Classing | null {
  const symbology = layer?.symbology
  return symbology?.kind === 'classed' || symbology?.kind === 'graduated' ? symbology.classing : null
}

export function changeClassing(layerId: string, tag: string, change: (classing: Classing) => void): void {
  useSheet.getState().editLayer(layerId, `classing-${tag}`, (layer) => {
    const classing = classingOf(layer)
    if (classing) change(classing)
  })
}

/** Class another field. */
export function chooseField(layerId: string, field: string): void {
  changeClassing(layerId, 'field', (c) => void Object.assign(c, { field }, withoutHand(c)))
}

/** Divide by something else, or by nothing. */
export function chooseDivisor(layerId: string, normalise: Classing['normalise']): void {
  changeClassing(layerId, 'normalise', (c) => void Object.assign(c, { normalise }, withoutHand(c)))
}

/** Breaks set by hand for one set of numbers mean nothing for another. */
function withoutHand(classing: Classing): Partial<Classing> {
  return classing.method === 'manual'
    ? { method: 'natural-breaks', classes: Math.max(1, classing.breaks.length), breaks: [] }
    : {}
}

/** As many as the core makes. */
export function mostClasses(): number {
  return queries.getQueryData(startingQuery.queryKey)?.most_classes ?? Infinity
}

export function stepClasses(layer: Layer | null, by: -1 | 1): void {
  const classing = classingOf(layer)
  if (!layer || !classing || classing.method === 'manual') return
  const next = Math.min(mostClasses(), Math.max(1, classing.classes + by))
  changeClassing(layer.id, 'classes', (c) => void (c.classes = next))
}

/** The upper limits as they stand, to be changed by hand. The last one is the maximum and stays. */
export function breaksOf(header: InkHeader): number[] {
  return header.classes.map((each) => each.upper)
}

/** Take breaks over by hand: sorted, without twins, within the numbers. */
export function setBreaks(layerId: string, breaks: number[], tag?: string): void {
  const tidy = [...new Set(breaks)].sort((a, b) => a - b)
  changeClassing(layerId, tag ?? `breaks-${tidy.length}`, (classing) =>
    Object.assign(classing, { method: 'manual', breaks: tidy, classes: tidy.length }),
  )
}

/** Move break `i` to `value`, kept between its neighbours so that no class is lost while dragging. */
export function moveBreak(breaks: number[], i: number, value: number, low: number): number[] {
  const below = i === 0 ? low : (breaks[i - 1] ?? low)
  const above = breaks[i + 1] ?? Infinity
  const gap = (Math.min(above, breaks.at(-1) ?? above) - below) / 1000
  const next = [...breaks]
  next[i] = roundFor(Math.min(Math.max(value, below + gap), above - gap), above - below)
  return next
}

/** Add a break at `value`. */
export function addBreak(breaks: number[], value: number): number[] {
  return [...breaks, value].sort((a, b) => a - b)
}

/** Three more figures than the width of the neighbourhood has: 1234.5678 in a class of 100 becomes 1234.57. */
export function roundFor(value: number, width: number): number {
  if (!Number.isFinite(width) || width <= 0) return value
  const decimals = Math.max(0, Math.min(12, 3 - Math.floor(Math.log10(width))))
  return Number(value.toFixed(decimals))
}
