// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { whole } from '../api/whole'
import { boxOf } from './AreaChoice'
import { framed, outline, overlaps } from './GlanceMap'
import { RasterPreview } from './RasterPreview'
import { ServicePanel } from './ServicePanel'
import { StorePanel, tagOf } from './StorePanel'

let asked: { path: string; body: unknown }[] = []
let answers: Record<string, unknown> = {}

beforeEach(() => {
  asked = []
  answers = {}
  const answer = (path: unknown, options?: { body?: unknown }) => {
    asked.push({ path: String(path), body: options?.body })
    const given = answers[String(path)]
    const refused = given instanceof Error
    return Promise.resolve({
      data: refused ? undefined : (given ?? []),
      error: refused ? { detail: given.message } : undefined,
      response: new Response(null, { status: refused ? 422 : 200 }),
    } as never)
  }
  vi.spyOn(client, 'GET').mockImplementation(answer as never)
  vi.spyOn(client, 'POST').mockImplementation(answer as never)
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

function shown(what: ReactNode) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } })
  return render(<QueryClientProvider client={queries}>{what}</QueryClientProvider>)
}

const bodyOf = (path: string) => asked.filter((each) => each.path === path).at(-1)?.body

const collection = {
  id: 'wells',
  title: 'Dip wells',
  description: 'All of them',
  bounds: null,
  credit: 'Survey',
  licence: 'free',
  filtered: true,
}
const done = { id: 'j', title: 'Fetch', state: 'done', message: '', done: 1, total: 1, result: { upload: 'u' } }

describe('data from a service', () => {
  const looked = async (offered: object) => {
    answers['/api/services'] = { hosts: ['maps.example.org'], addresses: [] }
    answers['/api/services/look'] = { host: 'maps.example.org', collections: [], layers: [], file: false, ...offered }
    const arrived = vi.fn()
    shown(<ServicePanel onArrive={arrived} />)
    fireEvent.change(screen.getByLabelText('Address of the service'), {
      target: { value: ' https://maps.example.org ' },
    })
    fireEvent.click(screen.getByRole('button', { name: 'Look what it has' }))
    await screen.findByRole('button', { name: 'Fetch and look at it' })
    return arrived
  }

  it('says which services are allowed before one is asked', async () => {
    answers['/api/services'] = { hosts: ['maps.example.org'], addresses: ['http://127.0.0.1:8802'] }
    shown(<ServicePanel onArrive={vi.fn()} />)
    expect(await screen.findByText(/Allowed here: maps.example.org/)).toBeTruthy()
    answers['/api/services/look'] = new Error('127.0.0.1 does not answer.')
    fireEvent.click(await screen.findByRole('button', { name: 'http://127.0.0.1:8802' }))
    expect((await screen.findByRole('alert')).textContent).toBe('127.0.0.1 does not answer.')
    expect(bodyOf('/api/services/look')).toEqual({ address: 'http://127.0.0.1:8802' })
    cleanup()
    answers['/api/services'] = { hosts: [], addresses: [] }
    shown(<ServicePanel onArrive={vi.fn()} />)
    expect(await screen.findByText(/No service is allowed here yet/)).toBeTruthy()
  })

  it('fetches a collection by a condition, and hands its preview on', async () => {
    answers['/api/services/fetch'] = { ...done, state: 'waiting' }
    answers['/api/jobs/{job_id}'] = done
    answers['/api/uploads/{upload_id}/preview'] = whole('Preview', {
      kind: 'points',
      file: 'a',
      format: 'b',
      title: 'Wells',
    })
    const arrived = await looked({ collections: [collection] })
    expect(screen.getByText('All of them · Survey · free')).toBeTruthy()
    fireEvent.change(screen.getByLabelText('Only features where'), { target: { value: 'depth > 2' } })
    fireEvent.click(screen.getByRole('button', { name: 'Fetch and look at it' }))
    await waitFor(() => expect(arrived).toHaveBeenCalledTimes(1))
    expect(bodyOf('/api/services/fetch')).toEqual({
      asked: {
        kind: 'features',
        address: 'https://maps.example.org',
        collection: 'wells',
        bounds: null,
        where: 'depth > 2',
      },
    })
    expect((arrived.mock.calls[0]?.[0] as { id: string }).id).toBe('u')
  })

  it('offers no condition where the service takes none, and a file as it is', async () => {
    await looked({ collections: [{ ...collection, filtered: false }] })
    expect(screen.queryByLabelText('Only features where')).toBeNull()
    cleanup()
    await looked({ file: true })
    expect(screen.queryByLabelText('Where')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Fetch and look at it' }))
    await waitFor(() =>
      expect(bodyOf('/api/services/fetch')).toEqual({
        asked: { kind: 'geojson', address: 'https://maps.example.org' },
      }),
    )
  })

  it('wants a place before tiles are fetched', async () => {
    await looked({
      layers: [{ id: 'relief', title: 'Relief', description: '', bounds: null, credit: '', crs: 'EPSG:3857' }],
    })
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Fetch and look at it' }).disabled).toBe(true)
    expect(screen.getByText(/maps with it ask the service no more/)).toBeTruthy()
  })
})

describe('the tagged store', () => {
  const tags = [
    { name: 'roof', features: 40, values: ['turf', 'slate'] },
    { name: 'state', features: 90, values: ['whole'] },
  ]

  it('counts before it takes', async () => {
    answers['/api/store/tags'] = tags
    answers['/api/store/count'] = {
      there: 200,
      taken: 12,
      tags: [
        { tag: { name: 'roof', value: '' }, carry: 40, lack: 160 },
        { tag: { name: 'state', value: 'whole' }, carry: 90, lack: 110 },
      ],
    }
    answers['/api/services/fetch'] = { ...done, state: 'waiting' }
    shown(<StorePanel onArrive={vi.fn()} />)
    const box = await screen.findByRole('combobox', { name: 'Tags' })
    for (const tag of ['roof', 'state = whole']) {
      fireEvent.change(box, { target: { value: tag } })
      fireEvent.keyDown(box, { key: 'Enter' })
    }
    const press = await screen.findByRole('button', { name: 'Take 12 features' })
    const counts = screen.getByRole('table', { name: 'Counts' })
    expect(counts.textContent).toContain('200 features there')
    expect(counts.textContent).toContain('roof40160')
    expect(counts.textContent).toContain('all of them12188')
    fireEvent.click(press)
    await waitFor(() => expect(bodyOf('/api/services/fetch')).toBeTruthy())
    expect(bodyOf('/api/services/fetch')).toEqual({
      asked: {
        kind: 'store',
        tags: [
          { name: 'roof', value: '' },
          { name: 'state', value: 'whole' },
        ],
        match: 'all',
        within: { bounds: null, dataset: null, fid: null },
      },
    })
  })

  it('takes no tag twice, however it is written', async () => {
    answers['/api/store/tags'] = tags
    answers['/api/store/count'] = { there: 200, taken: 0, tags: [] }
    shown(<StorePanel onArrive={vi.fn()} />)
    const field = await screen.findByRole('combobox', { name: 'Tags' })
    for (const text of ['roof', 'kind = tree', ' roof ', 'kind=tree']) {
      fireEvent.change(field, { target: { value: text } })
      fireEvent.keyDown(field, { key: 'Enter' })
    }
    const once = [
      { name: 'roof', value: '' },
      { name: 'kind', value: 'tree' },
    ]
    await waitFor(() => expect(bodyOf('/api/store/count')).toMatchObject({ tags: once }))
  })

  it('that is empty says so', async () => {
    answers['/api/store/tags'] = []
    shown(<StorePanel onArrive={vi.fn()} />)
    expect(await screen.findByText(/The store is empty/)).toBeTruthy()
  })

  it('reads tags as they are typed', () => {
    expect(tagOf(' roof ')).toEqual({ name: 'roof', value: '' })
    expect(tagOf('state = grown over')).toEqual({ name: 'state', value: 'grown over' })
    expect(tagOf('sum=a=b')).toEqual({ name: 'sum', value: 'a=b' })
  })
})

describe('places on a small map', () => {
  it('are boxes that meet or do not, and lines around them', () => {
    expect(overlaps([0, 0, 2, 2], [2, 2, 3, 3])).toBe(true)
    expect(overlaps([0, 0, 2, 2], [2.1, 0, 3, 3])).toBe(false)
    expect(outline([0, 1, 2, 3])).toEqual([
      [0, 1],
      [2, 1],
      [2, 3],
      [0, 3],
      [0, 1],
    ])
    expect(boxOf({ kind: 'everywhere' })).toBeNull()
    expect(boxOf({ kind: 'view', bounds: [0, 0, 1, 1] })).toEqual([0, 0, 1, 1])
  })

  it('are found again from pixels', () => {
    const view = framed([-28, 51, -26, 53], 336, 210, 1.15)
    for (const [lon, lat] of [
      [-28, 51],
      [-26.5, 52.25],
    ] as const) {
      expect(view.lon(view.x(lon))).toBeCloseTo(lon, 2)
      expect(view.lat(view.y(lat))).toBeCloseTo(lat, 2)
    }
    const wide = framed([-28, 51, -26, 53], 336, 210)
    expect(wide.bounds[2] - wide.bounds[0]).toBeGreaterThan(view.bounds[2] - view.bounds[0])
  })
})

describe('a raster before it is kept', () => {
  it('is seen, with how the values of its bands are spread', () => {
    const raster = { width: 10, height: 20, bands: 2, colour: 'one band', type: 'float32', nodata: -9 }
    const look = {
      picture: 'AAAA',
      colours: 3,
      bands: [
        { name: 'depth', low: 0.123456, high: 12345.678, mean: 4, missing: 0.021, bars: [1, 0, 5] },
        { name: 'none', low: null, high: null, mean: null, missing: 1, bars: [] },
      ],
    }
    shown(
      <RasterPreview
        preview={whole('Preview', { kind: 'raster', file: 'a', format: 'b', title: 'Peat', raster, look })}
      />,
    )
    expect(screen.getByRole<HTMLImageElement>('img', { name: 'What Peat looks like' }).src).toBe(
      'data:image/png;base64,AAAA',
    )
    expect(screen.getByText('float32 · nodata -9 · 3 colours in its palette')).toBeTruthy()
    expect(screen.getByText(/0.1235 to 12,350, mean 4, 2.1 % without a value/)).toBeTruthy()
    expect(screen.getByText(/no values, 100 % without a value/)).toBeTruthy()
    const bars = screen.getByRole('img', { name: 'How the values of band 1 are spread' }).querySelectorAll('rect')
    expect([...bars].map((bar) => Number(bar.getAttribute('height')))).toEqual([8, 0, 40])
  })
})
