// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { classedLayer } from '../api/forTests'
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
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } })
  queries.setQueryData(['datasets'], [{ id: 'd', kind: 'points', title: 'D', fields, bounds: [0, 0, 1, 1] }])
  queries.setQueryData(['starting'], {
    range_filter: range(''),
    choice_filter: { kind: 'choices', layer: '', field: '', title: '' },
  })
  render(
    <QueryClientProvider client={queries}>
      <FiltersPanel />
    </QueryClientProvider>,
  )
})
afterEach(cleanup)

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

it('keeps nothing but its words when it comes to be about a field of another kind', () => {
  fireEvent.change(screen.getByLabelText('What readers see of filter 1'), { target: { value: 'How deep' } })
  fireEvent.change(screen.getByLabelText('Field of filter 1'), { target: { value: 'soil' } })
  expect(filters()?.[0]).toEqual({ kind: 'choices', layer: 'a', field: 'soil', title: 'How deep' })
})

it('has none for days', () => {
  expect(step(2)).toBeNull()
})
