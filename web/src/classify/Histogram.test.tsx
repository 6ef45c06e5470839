// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { ThemeProvider } from '@mui/material/styles'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import type { Classing, InkHeader } from '../api/types'
import { classedLayer, markOf } from '../api/forTests'
import { layerOf, useSheet } from '../sheet/store'
import { classingOf } from './classing'
import { themeFor } from '../theme'
import { Histogram } from './Histogram'
import { whole } from '../api/whole'

const layer = classedLayer('a', { method: 'quantile', classes: 3 })
const header = {
  kind: 'areas',
  key: [
    {
      channel: 'colour',
      entries: ['#333333', '#222222', '#111111'].map((fill, i) => ({
        mark: markOf(fill),
        limits: [20 - 10 * i, 30 - 10 * i],
      })),
    },
  ],
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
  steps: [0.05, 0.05, 0.05],
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
const classing = () => classingOf(layerOf('a')) as Classing

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

describe('its heights', () => {
  it('are on a root scale that is named, or in proportion, with a curve of the share up to there', () => {
    const button = screen.getByRole('button', { name: /on a root scale/ })
    const heights = () =>
      [...document.querySelectorAll('[data-testid=histogram] > rect')].map((bar) => Number(bar.getAttribute('height')))
    const root = heights()
    fireEvent.click(button)
    expect(screen.getByRole('button', { name: /on a linear scale/ }).getAttribute('aria-pressed')).toBe('true')
    const linear = heights()
    const tallest = root.indexOf(Math.max(...root))
    root.forEach((height, i) => {
      const share = (linear[i] ?? 0) / (linear[tallest] ?? 1)
      expect((height / (root[tallest] ?? 1)) ** 2).toBeCloseTo(share, 5)
    })
    const curve = screen.getByTestId('cumulative').getAttribute('points')?.split(' ') ?? []
    const ups = curve.map((point) => Number(point.split(',')[1]))
    expect(ups.every((y, i) => i === 0 || y <= (ups[i - 1] ?? 0))).toBe(true)
  })
})
