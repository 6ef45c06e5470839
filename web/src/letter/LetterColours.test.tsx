// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import type { Dataset, Lettering } from '../api/types'
import { whole } from '../api/whole'
import { DressPanel } from './DressPanel'

const never = () => new Promise(() => undefined)
beforeEach(() => {
  vi.spyOn(client, 'GET').mockImplementation(never as never)
  vi.stubGlobal('fetch', never)
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
  vi.unstubAllGlobals()
})

const fields = [
  { name: 'name', type: 'text' },
  { name: 'people', type: 'integer' },
].map((field) => ({ ...field, missing: 0, meaning: { kind: 'name', unit: '' } }))
const dataset = {
  id: 'd',
  kind: 'points',
  fields,
  channels: { colour: ['classes', 'value', 'category'] },
} as unknown as Dataset
const layer = whole('Layer', { id: 'a', name: 'A', dataset: 'd', symbology: { kind: 'symbols' } } as never)
const begun = {
  frame: { shape: 'box' as const, fill: '#ffffff', outline: '#222222', width: 1, room: 3 },
  label_shadow: { colour: '#000000', opacity: 0.4, right: 1, down: 1, blur: 1 },
}
const byName = whole('ColourByCategory', { by: 'category', field: 'name', categories: [{ values: ['Ard'] }] } as never)

function shown(lettering: Lettering) {
  const onChange = vi.fn()
  const panel = <DressPanel layer={layer} dataset={dataset} lettering={lettering} begun={begun} onChange={onChange} />
  render(<QueryClientProvider client={new QueryClient()}>{panel}</QueryClientProvider>)
  return onChange
}

it('asks by which field labels differ, and begins with categories of words and classes of numbers', async () => {
  const asked = vi
    .spyOn(client, 'POST')
    .mockImplementation(((path: string) =>
      path === '/api/draw/varied'
        ? Promise.resolve({ data: { encodings: { colour: byName } }, response: new Response() })
        : never()) as never)
  const onChange = shown(whole('Lettering', { lines: [{ text: '{name}' }] } as never))
  fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Colours' }))
  fireEvent.click(screen.getByRole('option', { name: 'by a field' }))
  expect(onChange).not.toHaveBeenCalled()
  for (const [name, by] of [
    ['name', 'category'],
    ['people', 'classes'],
  ] as const) {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Field' }))
    fireEvent.click(screen.getByRole('option', { name }))
    await waitFor(() =>
      expect(asked.mock.lastCall?.[1]).toMatchObject({ body: { channel: 'colour', by, fields: [name] } }),
    )
  }
  await waitFor(() => expect(onChange).toHaveBeenCalledWith('colour-by', { colours: 'field', colour: byName }))
})

it('lets each category have a colour of its own', () => {
  const lettering = whole('Lettering', { lines: [{ text: '{name}' }], colours: 'field', colour: byName } as never)
  const onChange = shown(lettering)
  fireEvent.change(screen.getByLabelText('Colour of labels of Ard'), { target: { value: '#aa2233' } })
  expect(onChange.mock.lastCall?.[1].colour.categories).toMatchObject([{ values: ['Ard'], colour: '#aa2233' }])
})
