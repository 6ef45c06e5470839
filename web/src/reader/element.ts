/** An element with a class and a text. */
export function element(tag: string, className: string, text = ''): HTMLElement {
  const element = document.createElement(tag)
  if (className) element.className = className
  if (text) element.textContent = text
  return element
}

/** An input of a type; with a label where none stands beside it. */
export function input(type: string, label = ''): HTMLInputElement {
  const node = document.createElement('input')
  node.type = type
  if (label) node.setAttribute('aria-label', label)
  return node
}

/** A button that says what it does, or shows it and says it to who asks. */
export function button(label: string, does: () => void, glyph = ''): HTMLButtonElement {
  const node = document.createElement('button')
  node.type = 'button'
  if (glyph) {
    const picture = svg('svg', { viewBox: '0 0 16 16', width: 16, height: 16, 'aria-hidden': 'true' })
    picture.append(svg('path', { d: glyph, fill: 'none', stroke: 'currentColor', 'stroke-width': 1.4 }))
    node.append(picture)
    node.title = label
    node.setAttribute('aria-label', label)
  } else node.textContent = label
  node.addEventListener('click', does)
  return node
}

/** A part of a drawing. */
export function svg(tag: string, attributes: Record<string, string | number>): SVGElement {
  const node = document.createElementNS('http://www.w3.org/2000/svg', tag)
  for (const [name, value] of Object.entries(attributes)) node.setAttribute(name, String(value))
  return node
}
