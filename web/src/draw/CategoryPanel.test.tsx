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
    data: { header: { key: [{ entries: [{ mark: markOf('#b9b29f', { strokes: [line] }), count: 3 }] }] } },
  }),
}))
afterEach(cleanup)

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
