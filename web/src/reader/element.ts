/** An element with a class and a text. */
export function element(tag: string, className: string, text = ''): HTMLElement {
  const element = document.createElement(tag)
  if (className) element.className = className
  if (text) element.textContent = text
  return element
}
