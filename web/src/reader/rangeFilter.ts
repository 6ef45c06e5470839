import type { ReaderFilter } from '../api/types'
import type { Asking } from './asking'
import type { ChosenLayer } from './asking'
import { fieldOf, type NumberField } from './columns'
import { element, input, svg } from './element'
import type { Part } from './strip'
import { between, ends, spread } from './sift'
import { number, word } from './words'

const BINS = 48
const HIGH = 30
const DAY = 86_400
type Ends = [number, number]

/** Numbers or days between two ends: a slider with a handle at each, over how the values are spread, and two fields to type into. */
export function rangeFilter(asking: Asking, layer: ChosenLayer, filter: ReaderFilter & { kind: 'range' }): Part | null {
  const field = fieldOf(layer.columns, filter.field)
  if (!field || field.kind === 'words') return null
  const extremes = ends(field)
  if (!extremes) return null
  const name = `${layer.id}.${filter.field}`
  const title = filter.title || field.title
  const step = filter.step ?? stepFor(field, extremes)
  const [least, most] = trueEnds(field, extremes)
  // Sliders stand on whole steps, the first and the last of which may lie beyond what there is.
  const [start, stop] = [Math.floor(least / step) * step, Math.ceil(most / step) * step].map(tidy) as Ends
  const isDate = field.kind === 'date'
  let [low, high] = asking.said.ranges[name] ?? [least, most]

  const body = element('fieldset', 'filter range')
  const unit = field.unit && !title.includes(field.unit) ? `, ${field.unit}` : ''
  const bars = svg('svg', {
    viewBox: `0 0 ${BINS} ${HIGH}`,
    preserveAspectRatio: 'none',
    class: 'bars',
    'aria-hidden': 'true',
  })
  const sliders = element('div', 'sliders')
  const handle = (which: 'from' | 'to') => {
    const slider = input('range', word(which, { what: title }))
    Object.assign(slider, { min: String(start), max: String(stop), step: String(step) })
    slider.addEventListener('input', () => {
      const value = Math.min(most, Math.max(least, Number(slider.value)))
      if (which === 'from') take(Math.min(value, high), high)
      else take(low, Math.max(value, low))
    })
    return slider
  }
  const [lower, upper] = [handle('from'), handle('to')]
  sliders.append(lower, upper)
  const typed = (which: 'from' | 'to') => {
    const entry = input(isDate ? 'date' : 'number', word(which, { what: title }))
    if (!isDate) entry.step = 'any'
    entry.addEventListener('change', () => {
      const value = isDate ? Date.parse(`${entry.value}Z`) / 1000 : Number(entry.value)
      if (entry.value === '' || !Number.isFinite(value)) return show()
      // The day that is typed as the last is seen to its end.
      if (which === 'from') take(Math.min(value, high), high)
      else take(low, Math.max(isDate ? value + DAY - 1 : value, low))
    })
    return entry
  }
  const [first, last] = [typed('from'), typed('to')]
  const between_ = element('div', 'ends')
  between_.append(first, element('span', '', '–'), last)
  body.append(element('legend', '', `${title}${unit}`), bars, sliders, between_)

  const written = (value: number) => (isDate ? new Date(value * 1000).toISOString().slice(0, 10) : String(tidy(value)))
  const show = () => {
    const [from, to] = [low <= least ? start : low, high >= most ? stop : high]
    lower.value = String(from)
    upper.value = String(to)
    for (const [slider, value] of [
      [lower, low],
      [upper, high],
    ] as const)
      slider.setAttribute('aria-valuetext', isDate ? written(value) : number(value))
    first.value = written(low)
    last.value = written(high)
    sliders.style.setProperty('--from', `${(100 * (from - start)) / (stop - start || 1)}%`)
    sliders.style.setProperty('--to', `${(100 * (to - start)) / (stop - start || 1)}%`)
  }
  const take = (from: number, to: number) => {
    ;[low, high] = [from, to]
    const all = low <= least && high >= most
    if (all) delete asking.said.ranges[name]
    else asking.said.ranges[name] = [low, high]
    asking.choose(layer.id, name, all ? null : between(field, low, high))
    show()
  }
  const update = () => {
    const all = spread(field, [start, stop], BINS, layer.without(name))
    const top = Math.max(1, ...all)
    const wide = (stop - start) / BINS
    bars.replaceChildren(
      ...[...all].map((many, i) => {
        const middle = start + (i + 0.5) * wide
        const high_ = many === 0 ? 0 : Math.max(1, (HIGH * many) / top)
        const inside = middle >= low && middle <= high
        return svg('rect', { x: i, y: HIGH - high_, width: 0.9, height: high_, class: inside ? 'in' : 'out' })
      }),
    )
  }
  show()
  if (asking.said.ranges[name]) take(low, high)
  return { element: body, update, reset: () => take(least, most) }
}

/** The least and the greatest of what there is, of fractions not more digits than tell where they lie: none is left out. */
export function trueEnds(field: Pick<NumberField, 'kind' | 'data'>, extremes: Ends): Ends {
  if (field.kind === 'date' || areWhole(field.data)) return extremes
  const fine = Math.max(1, 10 ** (2 - Math.floor(Math.log10(stepFor(field, extremes)))))
  return [tidy(Math.floor(extremes[0] * fine) / fine), tidy(Math.ceil(extremes[1] * fine) / fine)]
}

/** A step of 1, 2 or 5 of some power of ten, a two-hundredth of the spread or so; whole days for dates. */
export function stepFor(
  { kind, data }: Pick<NumberField, 'kind' | 'data'>,
  [low, high]: readonly [number, number],
): number {
  if (kind === 'date') return DAY
  const rough = (high - low || 1) / 200
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = power * ([1, 2, 5].find((times) => times * power >= rough) ?? 10)
  return areWhole(data) ? Math.max(1, step) : step
}

const areWhole = (data: Float64Array) => data.every((value) => Number.isNaN(value) || Number.isInteger(value))

/** A number without what adding and dividing left behind its last digit. */
const tidy = (value: number) => Number(value.toPrecision(12))
