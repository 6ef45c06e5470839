import type { Asking, ChosenLayer } from './asking'
import { element, input } from './element'
import { atEntries, counts } from './sift'
import type { Part } from './strip'
import { number, word } from './words'

/** Let the lines of the key that features stand at be switched off and on; each says how many features it stands for now. */
export function keySwitches(asking: Asking, layer: ChosenLayer, host: HTMLElement): Part | null {
  const { columns } = layer
  // Pins, samples of sizes: lines at which no feature stands are no choice.
  const standing = counts(columns.entry, columns.entries.length, new Uint8Array(columns.n).fill(1))
  const lines = [...host.querySelectorAll<HTMLElement>(`[data-layer="${layer.id}"] li[data-entry]`)].flatMap((line) => {
    const code = columns.entries.indexOf(line.dataset.entry ?? '')
    return code < 0 || !standing[code] ? [] : [{ line, code, id: line.dataset.entry ?? '' }]
  })
  if (lines.length === 0) return null
  const off = new Set(asking.said.off[layer.id])
  const shown = lines.map(({ line, code, id }) => {
    const box = input('checkbox', word('off', { what: line.textContent ?? '' }))
    box.checked = !off.has(id)
    box.addEventListener('change', () => {
      if (box.checked) off.delete(id)
      else off.add(id)
      choose()
    })
    const many = element('span', 'many')
    line.prepend(box)
    line.append(many)
    return { box, many, code }
  })
  const choose = () => {
    asking.said.off[layer.id] = [...off]
    asking.choose(layer.id, 'key', off.size === 0 ? null : atEntries(columns, off))
  }
  const update = () => {
    const now = counts(columns.entry, columns.entries.length, layer.without('key'))
    for (const { many, code } of shown) many.textContent = number(now[code] ?? 0)
  }
  const reset = () => {
    off.clear()
    for (const { box } of shown) box.checked = true
    choose()
  }
  if (off.size) choose()
  return { element: host, update, reset }
}
