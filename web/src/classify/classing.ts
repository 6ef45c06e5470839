import * as limits from '../api/generated/limits'
import type { Classing, Distribution, InkHeader, Layer, Limits, Look, Mark } from '../api/types'
import { within } from '../bench/within'
import { editLook, lookOf } from '../sheet/looks'
import { begun } from '../sheet/queries'
import { layerOf, useSheet } from '../sheet/store'

/** How numbers become classes in a look: those of its colours, else of its sizes; null where it has none. */
export function classingIn(look: Look | null): Classing | null {
  return classingsIn(look)[0] ?? null
}

/** The same of the layer's look that is being edited. */
export function classingOf(layer: Layer | null): Classing | null {
  return classingIn(lookOf(layer, useSheet.getState().ruleId))
}

/** The classings of a look's channels. */
function classingsIn(look: Look | null): Classing[] {
  const { colour, size } = look?.encodings ?? {}
  return [colour, size].flatMap((channel) => (channel?.by === 'classes' ? [channel.classing] : []))
}

/** Colours and sizes that say the same of the same classes go on to do so. */
export function changeClassing(layerId: string, tag: string, change: (classing: Classing) => void): void {
  editLook(layerId, `classing-${tag}`, (look) => {
    const [first, second] = classingsIn(look)
    const together = first && second && JSON.stringify(first) === JSON.stringify(second)
    if (first) change(first)
    if (second && together) change(second)
  })
}

/** How numbers become classes in what is edited of a layer: in its look, or in the ink of a raster. */
export function limitsOf(layer: Layer | null): Limits | null {
  return layer?.symbology.kind === 'raster-classes' ? layer.symbology.classing : classingOf(layer)
}

/** Change that, of shapes and rasters alike. */
export function changeLimits(layerId: string, tag: string, change: (limits: Limits) => void): void {
  if (layerOf(layerId)?.symbology.kind !== 'raster-classes') return changeClassing(layerId, tag, change)
  useSheet.getState().editLayer(layerId, `classing-${tag}`, (draft) => {
    if (draft.symbology.kind === 'raster-classes') change(draft.symbology.classing)
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
  const unclassed = begun()?.gestures.unclassed
  return classing.method === 'manual' && unclassed
    ? { ...unclassed, classes: classing.breaks.length || limits.Limits.classes.least }
    : {}
}

export function stepClasses(layer: Layer | null, by: -1 | 1): void {
  const classing = limitsOf(layer)
  const next = classing && within(limits.Limits.classes, classing.classes + by)
  if (!layer || next === null || classing?.method === 'manual') return
  changeLimits(layer.id, 'classes', (l) => void (l.classes = next))
}

/** The upper limits as they stand, to be changed by hand. The last one is the maximum and stays. */
export function breaksOf(header: InkHeader): number[] {
  return header.classes.map((each) => each.upper)
}

/** The mark of each class, in rising order, as the key has it: of the look's colours, or else of its sizes. */
export function classMarks({ key, classes }: InkHeader): (Mark | null)[] {
  const fit = key.filter((section) => section.entries.filter((entry) => entry.limits).length >= classes.length)
  const own = fit.findLast(({ channel }) => channel === 'colour') ?? fit.findLast(({ channel }) => channel === 'size')
  return classes.map(({ lower, upper }) => own?.entries.find(({ limits }) => isOf(limits, lower, upper))?.mark ?? null)
}

/** Whether these are the limits of a class. */
export function isOf(
  limits: readonly [number, number] | number[] | null | undefined,
  lower: number,
  upper: number,
): boolean {
  return limits?.[0] === lower && limits[1] === upper
}

/** What is seen of a mark first: lines have no fill. */
export function seenColour(mark: Mark | null | undefined, kind: string): string | null {
  return (kind === 'lines' ? mark?.strokes.at(-1)?.colour : mark?.fill) ?? null
}

/** Take breaks over by hand: sorted, without twins, within the numbers. */
export function setBreaks(layerId: string, breaks: number[], tag?: string): void {
  const tidy = [...new Set(breaks)].sort((a, b) => a - b)
  changeLimits(layerId, tag ?? `breaks-${tidy.length}`, (limits) =>
    Object.assign(limits, { method: 'manual', breaks: tidy, classes: tidy.length }),
  )
}

/** Move break `i` to `value`, kept a step from its neighbours so that no class is lost while dragging; where there is no step between them it stays. */
export function moveBreak(breaks: number[], i: number, value: number, low: number, step: number): number[] {
  const below = i === 0 ? low : (breaks[i - 1] ?? low)
  const above = breaks[i + 1] ?? Infinity
  const to = inSteps(Math.min(Math.max(value, below + step), above - step), step)
  return below < to && to < above ? breaks.with(i, to) : breaks
}

/** Add a break at `value`. */
export function addBreak(breaks: number[], value: number): number[] {
  return [...breaks, value].sort((a, b) => a - b)
}

/** The value that a hand takes in those steps, a power of ten: as few figures as that has. */
export function inSteps(value: number, step: number): number {
  return step > 0 ? Number((Math.round(value / step) * step).toPrecision(12)) : value
}

/** The same of one on a histogram, in the steps that the core has for its bin. */
export function taken({ edges, steps }: Distribution, value: number): number {
  return inSteps(value, stepAt({ edges, steps }, value))
}

/** In what steps a hand takes values there. */
export function stepAt({ edges, steps }: Pick<Distribution, 'edges' | 'steps'>, value: number): number {
  const bin = edges.findIndex((edge) => value < edge)
  return steps.at(bin < 0 ? -1 : Math.max(0, bin - 1)) ?? 0
}
