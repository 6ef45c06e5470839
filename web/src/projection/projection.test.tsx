// @vitest-environment happy-dom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { client } from '../api/client'
import * as api from '../api/client'
import { useSheet } from '../sheet/store'
import { ProjectionDialog } from './ProjectionDialog'
import { whole } from '../api/whole'

const figures = (name: string) => ({
  name, matrix_set: 'x', left: 0, top: 0, side: 1, columns: 1, rows: 1, metres: 1, degrees: false, round: false,
  equal_area: name.includes('Equal'),
}) // prettier-ignore

beforeEach(() => {
  vi.spyOn(api, 'postForBytes').mockResolvedValue(new ArrayBuffer(4))
  vi.spyOn(client, 'POST').mockResolvedValue(
    ok([{ crs: 'EPSG:8857', name: 'Equal Earth', reason: 'The world in true areas.', equal_area: true }]),
  )
  vi.spyOn(client, 'GET').mockImplementation(((path: string, options: { params: { query: { crs: string } } }) =>
    Promise.resolve(
      path.endsWith('search')
        ? ok([{ crs: 'EPSG:3035', name: 'LAEA Europe', area: 'Europe', bounds: null, degrees: false }])
        : ok(figures(options.params.query.crs === 'EPSG:8857' ? 'Equal Earth' : options.params.query.crs)),
    )) as never)
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T' }))
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

describe('choosing a projection', () => {
  it('offers what suits the map, and puts it into the sheet when it is used', async () => {
    const closed = vi.fn()
    render(withQueries(<ProjectionDialog onClose={closed} />))
    const use = screen.getByRole<HTMLButtonElement>('button', { name: 'Use this projection' })
    expect(use.disabled).toBe(true)
    fireEvent.click(await screen.findByRole('button', { name: /Equal Earth/ }))
    await screen.findByText(/true proportion: right/)
    expect(useSheet.getState().document?.projection).toBeNull()
    fireEvent.click(use)
    expect(useSheet.getState().document?.projection).toEqual({ crs: 'EPSG:8857' })
    expect(closed).toHaveBeenCalledOnce()
  })

  it('goes back to that of the web, which sheets do not name', async () => {
    useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', projection: { crs: 'EPSG:8857' } }))
    render(withQueries(<ProjectionDialog onClose={() => undefined} />))
    fireEvent.click(await screen.findByRole('button', { name: /Web Mercator/ }))
    fireEvent.click(screen.getByRole('button', { name: 'Use this projection' }))
    expect(useSheet.getState().document?.projection).toBeNull()
  })

  it('searches, and takes a definition as it was typed', async () => {
    render(withQueries(<ProjectionDialog onClose={() => undefined} />))
    const search = screen.getByLabelText('Search projections')
    fireEvent.change(search, { target: { value: 'europe' } })
    await screen.findByRole('button', { name: /LAEA Europe/ })
    fireEvent.change(search, { target: { value: '+proj=laea +lat_0=52' } })
    await screen.findByRole('button', { name: /As you typed it/ })
    fireEvent.keyDown(search, { key: 'Enter' })
    fireEvent.click(screen.getByRole('button', { name: 'Use this projection' }))
    expect(useSheet.getState().document?.projection).toEqual({ crs: '+proj=laea +lat_0=52' })
  })

  it('shows what it does to sizes', async () => {
    render(withQueries(<ProjectionDialog onClose={() => undefined} />))
    await waitFor(() => expect(screen.queryByText('Drawing …')).toBeNull())
    fireEvent.click(screen.getByRole('button', { name: 'What it does to sizes' }))
    const picture = screen.getByRole<HTMLImageElement>('img', { name: /Circles of one size/ })
    expect(picture.src).toContain('/api/draw/frames/distortion?')
    expect(picture.src).toContain('crs=EPSG%3A3857')
  })
})

function ok(data: unknown): never {
  return { data, response: new Response(null, { status: 200 }) } as never
}

function withQueries(children: React.ReactNode) {
  return <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
}
