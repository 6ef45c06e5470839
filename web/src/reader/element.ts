/** An element with a class and a text. */
export function element(tag: string, className: string, text = ''): HTMLElement {
  const made = document.createElement(tag)
  if (className) made.className = className
  if (text) made.textContent = text
  return made
}
