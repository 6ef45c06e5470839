import type { Mark, RampKey } from '../api/types'
import type { KeyPart } from './edition'

const SVG = 'http://www.w3.org/2000/svg'

/** The key as readers see it; folded to a button on narrow screens. */
export function keyOf(parts: KeyPart[]): HTMLElement {
  const made = document.createElement('details')
  made.className = 'key'
  made.open = window.innerWidth > 620 && window.innerHeight > 260
  const summary = document.createElement('summary')
  summary.textContent = 'Key'
  made.append(summary)
  for (const part of parts) {
    const section = document.createElement('section')
    const heading = document.createElement('h2')
    heading.textContent = part.title
    section.append(heading)
    if (part.unit) {
      const unit = document.createElement('p')
      unit.textContent = part.unit
      section.append(unit)
    }
    if (part.ramp) section.append(rampOf(part.ramp))
    const list = document.createElement('ul')
    for (const entry of part.entries) {
      const item = document.createElement('li')
      item.append(swatch(entry.mark, part.kind), document.createTextNode(entry.text))
      list.append(item)
    }
    section.append(list)
    made.append(section)
  }
  made.hidden = parts.length === 0
  return made
}

function rampOf(ramp: RampKey): HTMLElement {
  const made = document.createElement('div')
  made.className = 'ramp'
  const bar = document.createElement('div')
  bar.style.background = `linear-gradient(to right, ${ramp.colours.join(',')})`
  const ends = document.createElement('p')
  const [low, high] = [document.createElement('span'), document.createElement('span')]
  low.textContent = number(ramp.low)
  high.textContent = number(ramp.high)
  ends.append(low, high)
  made.append(bar, ends)
  return made
}

const number = (value: number) => value.toLocaleString('en', { maximumSignificantDigits: 4 })

function swatch(mark: Mark | null, kind: string): SVGElement {
  const svg = document.createElementNS(SVG, 'svg')
  const side = mark && kind === 'points' ? Math.max(18, 2 * (mark.radius + mark.stroke_width) + 2) : 18
  svg.setAttribute('width', String(Math.max(24, side)))
  svg.setAttribute('height', String(side))
  if (!mark) return svg
  const shape = document.createElementNS(SVG, kind === 'points' ? 'circle' : kind === 'lines' ? 'path' : 'rect')
  const place: Record<string, string | number> =
    kind === 'points'
      ? { cx: Math.max(24, side) / 2, cy: side / 2, r: mark.radius }
      : kind === 'lines'
        ? { d: 'M1 13 L10 5 L23 11', fill: 'none' }
        : { x: 1, y: 2, width: 22, height: 14 }
  const look = {
    fill: mark.fill,
    'fill-opacity': mark.fill_opacity,
    stroke: mark.stroke,
    'stroke-width': mark.stroke_width,
    'stroke-opacity': mark.stroke_opacity,
  }
  for (const [name, value] of Object.entries({ ...look, ...place })) shape.setAttribute(name, String(value))
  svg.append(shape)
  return svg
}
