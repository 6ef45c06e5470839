import type { ChosenLayer } from './asking'
import type { Field } from './columns'
import { element } from './element'
import type { Page } from './tools'
import { number, word } from './words'

const MOST = 200

/** The features in view as a table, for who reads rather than looks: each leads to its card. */
export function tableOf({ map, panel, asking, showCard, loadRest }: Page): (opener: HTMLElement) => void {
  return (opener) => {
    const body = panel.open(word('table'), opener, () => map.un('moveend', show))
    const show = () => {
      const view = map.getView().calculateExtent(map.getSize())
      body.replaceChildren(...[...asking.layers.values()].flatMap((layer) => tableIn(layer, view, showCard)))
    }
    map.on('moveend', show)
    void loadRest().then(() => panel.isOf(opener) && show())
    asking.hear(() => panel.isOf(opener) && show())
    show()
  }
}

function tableIn(layer: ChosenLayer, [west = 0, south = 0, east = 0, north = 0]: number[], showCard: Page['showCard']) {
  const { columns, mask } = layer
  const inView: number[] = []
  for (let row = 0; row < columns.n; row++) {
    const [x, y] = [columns.x[row] as number, columns.y[row] as number]
    if (mask[row] && x >= west && x <= east && y >= south && y <= north) inView.push(row)
  }
  const fields = [...columns.fields].sort((a, b) => Number(b.name === columns.named) - Number(a.name === columns.named))
  if (inView.length === 0 || fields.length === 0) return []
  const table = element('table', '')
  const head = element('tr', '')
  head.append(...fields.map(({ title, unit }) => cell('th', unit ? `${title}, ${unit}` : title)))
  table.append(element('caption', '', `${layer.onMap.layer.name} · ${word('inView', { n: inView.length })}`), head)
  for (const row of inView.slice(0, MOST)) {
    const line = element('tr', '')
    fields.forEach((field, i) => {
      const text = shown(field, row)
      if (i > 0) return line.append(cell('td', text))
      const open = document.createElement('button')
      open.type = 'button'
      open.textContent = text || word('feature')
      open.addEventListener('click', () => showCard(layer.id, columns.fid[row] ?? 0))
      const first = cell('th', '')
      first.setAttribute('scope', 'row')
      first.append(open)
      line.append(first)
    })
    table.append(line)
  }
  const more = inView.length > MOST ? [element('p', '', word('more', { n: inView.length - MOST }))] : []
  return [table, ...more]
}

function cell(tag: 'td' | 'th', text: string): HTMLElement {
  const node = element(tag, '', text)
  if (tag === 'th') node.setAttribute('scope', 'col')
  return node
}

function shown(field: Field, row: number): string {
  const value = field.data[row] ?? NaN
  if (field.kind === 'words') return field.values[value] ?? ''
  if (Number.isNaN(value)) return ''
  return field.kind === 'date' ? new Date(value * 1000).toISOString().slice(0, 10) : number(value, field.decimals ?? 6)
}
