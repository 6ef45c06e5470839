// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { ThemeProvider } from '@mui/material/styles'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import type { Classed, InkHeader } from '../api/types'
import { useSheet } from '../sheet/store'
import { themeFor } from '../theme'
import { Histogram } from './Histogram'
import { whole } from '../api/whole'

const mark = (fill: string) => ({
  fill,
  fill_opacity: 1,
  stroke: '#000000',
  stroke_width: 0,
  stroke_opacity: 1,
  radius: 4,
})
const layer = whole('Layer', {
  id: 'a',
  name: 'A',
  dataset: 'd',
  symbology: { kind: 'classed', classing: { field: 'v', method: 'quantile', classes: 3 } },
})
const header = {
  kind: 'areas',
  palette: [mark('#111111'), mark('#222222'), mark('#333333')],
  classes: [
    { lower: 0, upper: 10, count: 4 },
    { lower: 10, upper: 20, count: 3 },
    { lower: 20, upper: 30, count: 2 },
  ],
} as unknown as InkHeader
const distribution = {
  n: 9,
  missing: 0,
  minimum: 0,
  maximum: 30,
  mean: 12,
  median: 11,
  edges: [0, 10, 20, 30],
  counts: [4, 3, 2],
}

beforeEach(() => {
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
  render(
    <QueryClientProvider client={queries}>
      <ThemeProvider theme={themeFor('light')}>
        <Histogram layer={layer} header={header} distribution={distribution} />
      </ThemeProvider>
    </QueryClientProvider>,
  )
})
afterEach(cleanup)

const queries = new QueryClient()
const classing = () => (useSheet.getState().document?.layers[0]?.symbology as Classed).classing

describe('the histogram', () => {
  it('has a handle for every break but the last, with its value for readers of the screen', () => {
    expect(screen.getAllByRole('slider').map((element) => element.getAttribute('aria-valuenow'))).toEqual(['10', '20'])
  })

  it('colours its bars by class', () => {
    const fills = [...screen.getByTestId('histogram').querySelectorAll('rect[stroke]')].map((element) =>
      element.getAttribute('fill'),
    )
    expect(fills).toEqual(['#111111', '#222222', '#333333'])
  })

  it('nudges a break by the arrow keys, further with Shift', () => {
    fireEvent.keyDown(screen.getByTestId('break-0'), { key: 'ArrowRight' })
    expect(classing().method).toBe('manual')
    expect(classing().breaks[0]).toBeCloseTo(10.15)
    fireEvent.keyDown(screen.getByTestId('break-1'), { key: 'ArrowLeft', shiftKey: true })
    expect(classing().breaks[1]).toBeCloseTo(18.5)
  })

  it('takes a break out with Delete', () => {
    fireEvent.keyDown(screen.getByTestId('break-0'), { key: 'Delete' })
    expect(classing().breaks).toEqual([20, 30])
  })

  it('takes no step of a drag before the one before it is answered, and the last one in any case', async () => {
    let answer: (ink: object) => void = () => undefined
    const asked = queries.fetchQuery({ queryKey: ['ink', 'a'], queryFn: () => new Promise((done) => (answer = done)) })
    const frame = () => act(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))))
    const drag = (clientX: number) => fireEvent(window, new MouseEvent('pointermove', { clientX }))
    fireEvent.pointerDown(screen.getByTestId('break-0'), { clientX: 138 })
    drag(150)
    await frame()
    expect(classing().method).toBe('quantile')
    answer({})
    await asked
    await frame()
    const taken = classing().breaks[0]
    expect(taken).toBeGreaterThan(10)
    void queries.fetchQuery({ queryKey: ['ink', 'b'], queryFn: () => new Promise(() => undefined) })
    drag(170)
    await frame()
    expect(classing().breaks[0]).toBe(taken)
    fireEvent(window, new MouseEvent('pointerup'))
    expect(classing().breaks[0]).toBeGreaterThan(taken ?? 0)
  })
})
