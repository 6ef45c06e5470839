// @vitest-environment happy-dom
import { expect, it, vi } from 'vitest'
import type { Asking, ChosenLayer } from './asking'
import { keySwitches } from './keySwitches'

it('are at lines at which features stand: pins and samples of sizes are no choice', () => {
  const lines = ['a', 'b', 'pin 7'].map((id) => `<li data-entry="${id}">${id}</li>`).join('')
  const host = document.createElement('div')
  host.innerHTML = `<section data-layer="towns"><ul>${lines}</ul></section>`
  const columns = { n: 3, entry: Uint16Array.of(0, 1, 1), entries: ['a', 'b', 'pin 7'] }
  const layer = { id: 'towns', columns, without: () => Uint8Array.of(1, 1, 0) } as unknown as ChosenLayer
  const asking = { said: { off: {} }, choose: vi.fn() } as unknown as Asking
  keySwitches(asking, layer, host)?.update()
  const boxes = [...host.querySelectorAll('li')].map((line) => line.querySelector('input') !== null)
  expect(boxes).toEqual([true, true, false])
  expect([...host.querySelectorAll('.many')].map((count) => count.textContent)).toEqual(['1', '1'])
})
