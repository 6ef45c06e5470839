// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, render, screen } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import { markOf } from '../api/forTests'
import type { Dataset, Layer } from '../api/types'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { CategoryPanel } from './CategoryPanel'

const line = { colour: '#3050a0', width: 2, opacity: 1, dash: [], cap: 'round' as const }
vi.mock('../sheet/queries', async (original) => ({
  ...(await original<object>()),
  useInk: () => ({
    data: {
      header: {
        key: [
          { channel: 'symbol', entries: [{ mark: markOf('#c9c2b0'), count: 10, step: null }] },
          {
            channel: 'colour',
            entries: [
              { mark: markOf('#d9d6cd'), count: 1, step: null },
              { mark: markOf('#4a8030'), count: 7, step: 1 },
              { mark: markOf('#b9b29f', { strokes: [line] }), count: 3, step: 0 },
            ],
          },
        ],
      },
    },
  }),
}))
afterEach(cleanup)

/** Found on an election: with a rule above it the first party had the colour of the rule, and the others none; and the key is ordered by its maker. */
it('shows each category as it is drawn, whatever stands above it in the key', () => {
  const layer = whole('Layer', { id: 'l', name: 'l', dataset: 'd', symbology: { kind: 'symbols' } } as never) as Layer
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
  const categories = ['Jubilee', 'Circle'].map((value) => ({ values: [value], colour: null }))
  const dataset = { id: 'd', kind: 'areas', fields: [{ name: 'id', type: 'text' }] } as unknown as Dataset
  render(
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { enabled: false } } })}>
      <CategoryPanel
        encoding={{ by: 'category', field: 'id', categories } as never}
        dataset={dataset}
        layer={layer}
        onChange={vi.fn()}
      />
    </QueryClientProvider>,
  )
  const colours = ['Jubilee', 'Circle'].map(
    (name) => screen.getByLabelText<HTMLInputElement>(`Colour of ${name}`).value,
  )
  expect(colours).toEqual(['#b9b29f', '#4a8030'])
  expect(screen.getAllByRole('listitem').map((line) => line.textContent)).toEqual(['3', '7'])
})

/** Found on strangers' lines: all categories were as grey as a fill that lines don't have. */
it('shows the colours of strokes where the features are lines', () => {
  const layer = whole('Layer', { id: 'l', name: 'l', dataset: 'd', symbology: { kind: 'symbols' } } as never) as Layer
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
  const encoding = { by: 'category', field: 'id', categories: [{ values: ['Jubilee'], colour: null }] } as never
  const colour = (kind: string) => {
    const dataset = { id: 'd', kind, fields: [{ name: 'id', type: 'text' }] } as unknown as Dataset
    render(
      <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { enabled: false } } })}>
        <CategoryPanel encoding={encoding} dataset={dataset} layer={layer} onChange={vi.fn()} />
      </QueryClientProvider>,
    )
    const shown = screen.getByLabelText<HTMLInputElement>('Colour of Jubilee').value
    cleanup()
    return shown
  }
  expect([colour('lines'), colour('points')]).toEqual(['#3050a0', '#b9b29f'])
})
