import { fieldOf } from './columns'
import { element, input } from './element'
import { found } from './sift'
import type { Page } from './tools'
import { number, word } from './words'

const MOST = 12

/** A field to type names into, with what is called so below it; what is chosen is shown, and told. Null where nothing can be found by name. */
export function searchBox(
  { reader, asking, showCard }: Page,
  chosenAt: (lonlat: number[]) => void,
): HTMLElement | null {
  const fields = reader.search.flatMap(({ layer, field }) => {
    const chosen = asking.layers.get(layer)
    const column = fieldOf(chosen?.columns, field)
    return chosen && column ? [{ chosen, column }] : []
  })
  if (fields.length === 0) return null
  const box = element('div', 'search')
  const entry = input('search', word('search'))
  entry.placeholder = word('search')
  entry.autocomplete = 'off'
  entry.setAttribute('role', 'combobox')
  entry.setAttribute('aria-expanded', 'false')
  entry.setAttribute('aria-controls', 'found')
  const list = element('ul', 'found')
  list.id = 'found'
  list.setAttribute('role', 'listbox')
  list.setAttribute('aria-label', word('search'))
  list.hidden = true
  let hits: { text: string; about: string; show: () => void }[] = []
  let at = -1

  const open = (shown: boolean) => {
    list.hidden = !shown
    entry.setAttribute('aria-expanded', String(shown))
    if (!shown) entry.removeAttribute('aria-activedescendant')
  }
  const mark = (place: number) => {
    at = place
    ;[...list.children].forEach((line, i) => line.setAttribute('aria-selected', String(i === at)))
    if (hits[at]) entry.setAttribute('aria-activedescendant', `found-${at}`)
  }
  const take = (place: number) => {
    const hit = hits[place]
    if (!hit) return
    entry.value = hit.text
    open(false)
    hit.show()
  }
  entry.addEventListener('input', () => {
    hits = fields
      .flatMap(({ chosen, column }) =>
        found(column, entry.value, MOST).map((rows) => {
          const value = column.data[rows[0] ?? 0] ?? NaN
          const text = column.kind === 'words' ? (column.values[value] ?? '') : String(value)
          const { fid, lon, lat } = chosen.columns
          // Of several that are called the same, as the places of one storm, each time the next.
          let turn = 0
          const show = () => {
            const row = rows[turn++ % rows.length] ?? 0
            showCard(chosen.id, fid[row] ?? 0, true)
            chosenAt([lon[row] ?? NaN, lat[row] ?? NaN])
          }
          const many = rows.length > 1 ? ` · ${number(rows.length)}` : ''
          return { text, about: chosen.onMap.layer.name + many, show }
        }),
      )
      .slice(0, MOST)
    list.replaceChildren(
      ...hits.map(({ text, about }, i) => {
        const line = element('li', '')
        line.id = `found-${i}`
        line.setAttribute('role', 'option')
        line.append(element('b', '', text), element('span', 'many', about))
        line.addEventListener('pointerdown', (event) => {
          event.preventDefault()
          take(i)
        })
        return line
      }),
    )
    if (hits.length === 0 && entry.value.trim()) {
      const line = element('li', '', word('notFound'))
      line.setAttribute('role', 'option')
      line.setAttribute('aria-disabled', 'true')
      list.append(line)
    }
    mark(hits.length > 0 ? 0 : -1)
    open(entry.value.trim() !== '')
  })
  entry.addEventListener('keydown', (event) => {
    if (event.key === 'ArrowDown') mark(Math.min(hits.length - 1, at + 1))
    else if (event.key === 'ArrowUp') mark(Math.max(0, at - 1))
    else if (event.key === 'Enter') take(at)
    else if (event.key === 'Escape') open(false)
    else return
    event.preventDefault()
  })
  entry.addEventListener('blur', () => open(false))
  box.append(entry, list)
  return box
}
