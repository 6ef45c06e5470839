import type { Time } from '../api/types'
import type { Asking, ChosenLayer } from './asking'
import { called, stepsOf } from './calendar'
import { fieldOf, type NumberField } from './columns'
import { button, element, input, svg } from './element'
import { add, during, ends } from './sift'
import type { Part } from './strip'
import { language, word } from './words'

const HIGH = 26
const BARS = 400
const STILL = window.matchMedia('(prefers-reduced-motion: reduce)').matches
const GLYPHS = {
  play: 'M4 2.5L13 8L4 13.5Z',
  pause: 'M5 3v10M11 3v10',
  back: 'M11 3L5 8l6 5M4 3v10',
  forward: 'M5 3l6 5-6 5M12 3v10',
}

/** Time: features appear step by step, played or dragged, over how many there are at each. */
export function timeline(asking: Asking, layer: ChosenLayer, time: Time): Part | null {
  const from = fieldOf(layer.columns, time.field)
  const until = time.until ? fieldOf(layer.columns, time.until) : undefined
  if (from?.kind !== 'date' || (until && until.kind !== 'date')) return null
  const span = both(ends(from), until ? ends(until as NumberField) : null)
  if (!span) return null
  const edges = stepsOf(time, span)
  const steps = edges.length - 1
  let at = startingAt(edges, asking.said.time)
  let seen: number | null = asking.said.time === null ? null : at
  let playing = 0

  const body = element('div', 'time')
  const play = button(word('play'), () => (playing ? stop() : start()), GLYPHS.play)
  const back = button(word('back'), () => go(at - 1), GLYPHS.back)
  const forward = button(word('forward'), () => go(at + 1), GLYPHS.forward)
  const slider = input('range', word('when'))
  Object.assign(slider, { min: '0', max: String(steps - 1), step: '1', value: String(at) })
  slider.addEventListener('input', () => {
    stop()
    go(Number(slider.value))
  })
  const bars = svg('svg', {
    viewBox: `0 0 ${Math.min(steps, BARS)} ${HIGH}`,
    preserveAspectRatio: 'none',
    class: 'bars',
    'aria-hidden': 'true',
  })
  const track = element('div', 'track')
  track.append(bars, slider)
  const said = element('output', 'when')
  const whole = button(word('whole'), () => {
    stop()
    show(null)
  })
  // Motion is off where the reader asks for less: steps are made by hand.
  body.append(...(STILL ? [] : [play]), back, forward, track, said, whole)

  const show = (step: number | null) => {
    seen = step
    const first = step === null ? 0 : Math.max(0, step - time.length + 1)
    const [low, high] = [edges[time.cumulative ? 0 : first] as number, edges[(step ?? steps - 1) + 1] as number]
    asking.said.time = step === null ? null : (edges[step] as number)
    layer.fade(step !== null && time.fade ? strengths(from, [edges[first] as number, high], time) : null)
    asking.choose(
      layer.id,
      'time',
      step === null ? null : during(from, until ? (until as NumberField) : null, low, high),
    )
    const words = step === null ? word('whole') : called(edges[first] as number, high, time, language)
    said.textContent = words
    slider.setAttribute('aria-valuetext', words)
    whole.hidden = step === null
  }
  const go = (step: number) => {
    at = (step + steps) % steps
    slider.value = String(at)
    show(at)
  }
  const stop = () => {
    cancelAnimationFrame(playing)
    playing = 0
    face('play')
  }
  const face = (which: 'play' | 'pause') => {
    play.querySelector('path')?.setAttribute('d', GLYPHS[which])
    play.title = word(which)
    play.setAttribute('aria-label', word(which))
  }
  const start = () => {
    face('pause')
    const begin = performance.now()
    const first = seen === null || at === steps - 1 ? 0 : at
    let last = -1
    const frame = (now: number) => {
      const gone = first + Math.floor(((now - begin) / 1000 / time.seconds) * steps)
      if (gone >= steps && !time.loop) {
        go(steps - 1)
        return stop()
      }
      if (gone !== last) go(gone % steps)
      last = gone
      playing = requestAnimationFrame(frame)
    }
    playing = requestAnimationFrame(frame)
  }
  const update = () => {
    const mask = layer.without('time')
    const many = perStep(from, edges, mask, Math.min(steps, BARS))
    const top = Math.max(1, ...many)
    const now = seen === null ? -1 : Math.floor((seen * many.length) / steps)
    bars.replaceChildren(
      ...[...many].map((n, i) =>
        svg('rect', {
          x: i,
          y: HIGH - (HIGH * n) / top,
          width: 0.92,
          height: (HIGH * n) / top,
          class: i === now ? 'in' : 'out',
        }),
      ),
    )
  }
  show(seen)
  return { element: body, update, reset: () => show(null) }
}

function both(one: [number, number] | null, other: [number, number] | null): [number, number] | null {
  if (!one || !other) return one ?? other
  return [Math.min(one[0], other[0]), Math.max(one[1], other[1])]
}

/** The step in which a time lies; the first where there is none. */
function startingAt(edges: readonly number[], time: number | null): number {
  if (time === null) return 0
  const step = edges.findLastIndex((edge) => edge <= time)
  return Math.min(Math.max(0, step), edges.length - 2)
}

/** How faint features are by how long ago they were within a window: from a fifth, at its beginning, to all. */
function strengths({ data }: NumberField, [low, high]: readonly [number, number], { cumulative }: Time): Float32Array {
  const wide = high - low || 1
  return Float32Array.from(data, (value) => {
    const share = 0.2 + (0.8 * (value - low)) / wide
    return Math.max(cumulative ? 0.2 : 0, Math.min(1, share))
  })
}

/** How many features begin in each of as many equal runs of steps. */
function perStep({ data }: NumberField, edges: readonly number[], mask: Uint8Array, bars: number): Uint32Array {
  const counts = new Uint32Array(bars)
  const steps = edges.length - 1
  for (let row = 0; row < data.length; row++) {
    const value = data[row] as number
    if (!mask[row] || !(value >= (edges[0] as number))) continue
    // Steps of a calendar are of different lengths: looked up by halving.
    let [low, high] = [0, steps]
    while (high - low > 1) {
      const middle = (low + high) >> 1
      if ((edges[middle] as number) <= value) low = middle
      else high = middle
    }
    if (value < (edges[steps] as number)) add(counts, Math.floor((low * bars) / steps))
  }
  return counts
}
