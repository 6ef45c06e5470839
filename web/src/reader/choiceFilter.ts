import type { ReaderFilter } from '../api/types'
import type { Asking, ChosenLayer } from './asking'
import { fieldOf } from './columns'
import { element, input } from './element'
import { among, counts } from './sift'
import type { Part } from './strip'
import { number, word } from './words'

const MOST = 400

/** Values of a field, each to be taken or not, with how many features have it among those that everything else takes. */
export function choiceFilter(
  asking: Asking,
  layer: ChosenLayer,
  filter: ReaderFilter & { kind: 'choices' },
): Part | null {
  const field = fieldOf(layer.columns, filter.field)
  if (field?.kind !== 'words') return null
  const name = `${layer.id}.${filter.field}`
  const every = counts(field.data, field.values.length, new Uint8Array(layer.columns.n).fill(1))
  const order = field.values
    .map((value, code) => ({ value, code }))
    .sort((a, b) => (every[b.code] ?? 0) - (every[a.code] ?? 0) || a.value.localeCompare(b.value))
    .slice(0, MOST)
  if ((every[field.values.length] ?? 0) > 0) order.push({ value: '', code: field.values.length })
  const all = order.map(({ value }) => value)
  const taken = new Set(asking.said.choices[name] ?? all)

  const body = element('fieldset', 'filter choices')
  body.append(element('legend', '', filter.title || field.title))
  const list = element('ul', '')
  const lines = order.map(({ value, code }) => {
    const box = input('checkbox')
    box.checked = taken.has(value)
    box.addEventListener('change', () => {
      if (box.checked) taken.add(value)
      else taken.delete(value)
      choose()
    })
    const label = element('label', '')
    const many = element('span', 'many')
    label.append(box, element('span', '', value || word('missing')), many)
    const line = element('li', '')
    line.append(label)
    list.append(line)
    return { box, many, code, value }
  })
  body.append(list)
  const choose = () => {
    const whole = taken.size === all.length
    if (whole) delete asking.said.choices[name]
    else asking.said.choices[name] = all.filter((value) => taken.has(value))
    asking.choose(layer.id, name, whole ? null : among(field, taken))
  }
  const update = () => {
    const now = counts(field.data, field.values.length, layer.without(name))
    for (const { many, code } of lines) many.textContent = number(now[code] ?? 0)
  }
  const reset = () => {
    all.forEach((value) => taken.add(value))
    for (const { box } of lines) box.checked = true
    choose()
  }
  if (asking.said.choices[name]) choose()
  return { element: body, update, reset }
}
