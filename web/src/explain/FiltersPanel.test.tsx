// @vitest-environment happy-dom
import { QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { begunQueries, classedLayer } from '../api/forTests'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { FiltersPanel } from './FiltersPanel'

const meaning = { kind: 'measure', unit: '', decimals: null, missing: [], reason: '' }
const fields = [
  { name: 'v', type: 'number', missing: 0, meaning },
  { name: 'day', type: 'date', missing: 0, meaning },
  { name: 'soil', type: 'text', missing: 0, meaning },
]
const range = (field: string) => ({ kind: 'range', layer: 'a', field, title: '', step: null }) as const
const filters = () => useSheet.getState().document?.reader.filters

beforeEach(() => {
  const reader = { filters: [range('v'), range('day')] }
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [classedLayer('a', {})], reader } as never))
  const queries = begunQueries()
  queries.setQueryData(['datasets'], [{ id: 'd', kind: 'points', title: 'D', fields, bounds: [0, 0, 1, 1] }])
  render(
    <QueryClientProvider client={queries}>
      <FiltersPanel />
    </QueryClientProvider>,
  )
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

const step = (n: number) => screen.queryByLabelText(new RegExp(`^Step of filter ${n}`))

it('lets the maker say by how much a slider of numbers steps, and leave it to the values again', () => {
  const type = (text: string) => {
    const entry = step(1) as HTMLElement
    fireEvent.focus(entry)
    fireEvent.change(entry, { target: { value: text } })
    fireEvent.keyDown(entry, { key: 'Enter' })
  }
  type('0.5')
  expect(filters()?.[0]).toMatchObject({ field: 'v', step: 0.5 })
  type('0')
  expect(filters()?.[0]).toMatchObject({ field: 'v', step: null })
})

const answers = (data: unknown) =>
  vi.spyOn(client, 'POST').mockResolvedValue({ data, response: new Response() } as never)

it('keeps nothing but its words when it comes to be about a field of another kind', async () => {
  const asked = answers({ kind: 'choices', layer: 'a', field: 'soil', title: '' })
  fireEvent.change(screen.getByLabelText('What readers see of filter 1'), { target: { value: 'How deep' } })
  fireEvent.change(screen.getByLabelText('Field of filter 1'), { target: { value: 'soil' } })
  await waitFor(() => expect(filters()?.[0]).toEqual({ kind: 'choices', layer: 'a', field: 'soil', title: 'How deep' }))
  expect(asked).toHaveBeenCalledWith('/api/draw/filter', { body: expect.objectContaining({ field: 'soil' }) as object })
})

it('asks what readers may choose by, of the fields that are left, and what they find features by', async () => {
  const asked = answers(range('soil'))
  fireEvent.click(screen.getByRole('button', { name: 'Add a filter' }))
  await waitFor(() => expect(filters()).toHaveLength(3))
  const body = expect.objectContaining({ field: null, shown: 'v', taken: ['v', 'day'] }) as object
  expect(asked).toHaveBeenCalledWith('/api/draw/filter', { body })
  answers({ layer: 'a', field: 'soil' })
  fireEvent.click(screen.getByRole('button', { name: 'Search a field' }))
  await waitFor(() => expect(useSheet.getState().document?.reader.search).toEqual([{ layer: 'a', field: 'soil' }]))
})

it('has none for days', () => {
  expect(step(2)).toBeNull()
})
