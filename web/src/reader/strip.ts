import type { PageReader } from '../api/types'
import type { Asking } from './asking'
import { choiceFilter } from './choiceFilter'
import { button, element } from './element'
import { keySwitches } from './keySwitches'
import { rangeFilter } from './rangeFilter'
import { timeline } from './timeline'
import { number, word } from './words'

/** Something by which readers choose: it follows what else is chosen, and lets go of its own choice. */
export interface Part {
  element: HTMLElement
  update: () => void
  reset: () => void
}

/** The strip at the foot of the page: time and filters, and how many features are left. */
export function stripFor(asking: Asking, reader: PageReader, host: HTMLElement): void {
  const filters = reader.filters.flatMap((filter) => {
    const layer = asking.layers.get(filter.layer)
    if (!layer) return []
    const part = filter.kind === 'range' ? rangeFilter(asking, layer, filter) : choiceFilter(asking, layer, filter)
    return part ? [part] : []
  })
  const timed = reader.time && asking.layers.get(reader.time.layer)
  const time = timed && reader.time ? timeline(asking, timed, reader.time) : null
  const switches = reader.key_switches
    ? [...asking.layers.values()].flatMap((layer) => keySwitches(asking, layer, host) ?? [])
    : []
  const parts = [...(time ? [time] : []), ...filters, ...switches]
  if (parts.length === 0) return
  asking.lettingGo.push(...parts.flatMap((part) => (part === time ? [] : [part.reset])))
  const strip = element('section', 'strip')
  strip.setAttribute('aria-label', word('filters'))
  const taken = element('p', 'taken')
  taken.setAttribute('role', 'status')
  const again = button(word('all'), () => asking.lettingGo.forEach((letGo) => letGo()))
  const line = element('div', 'state')
  line.append(taken, again)
  if (time) strip.append(time.element)
  if (filters.length > 0) {
    const fold = document.createElement('details')
    fold.className = 'filters'
    fold.open = window.innerWidth > 620 && window.innerHeight > 420
    const summary = element('summary', '', word('filters'))
    const row = element('div', 'row')
    row.append(...filters.map((part) => part.element))
    fold.append(summary, row)
    const chosen = element('div', 'chosen')
    chosen.append(fold, line)
    strip.append(chosen)
  } else strip.append(line)
  host.querySelector('.credits')?.before(strip)
  const update = () => {
    parts.forEach((part) => part.update())
    const counted = asking.counted()
    line.toggleAttribute('data-empty', counted === null)
    taken.textContent = !counted
      ? ''
      : counted.shown === 0
        ? word('none')
        : word('taken', { n: number(counted.shown), of: number(counted.of) })
  }
  asking.hear(update)
  update()
}
