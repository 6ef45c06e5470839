// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import type { Edition, Editions, Job } from '../api/types'
import { mapBridge } from '../sheet/mapBridge'
import { useSheet } from '../sheet/store'
import { filesByUse } from './editionFiles'
import { EmbedCode } from './EmbedCode'
import { embedCode } from './embedCode'
import { JobLine } from './JobLine'
import { LastEdition } from './LastEdition'
import { WhoReads } from './WhoReads'
import { whole } from '../api/whole'

afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
  mapBridge.set(null)
})

function withQueries(children: ReactNode): ReactNode {
  return (
    <QueryClientProvider client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}>
      {children}
    </QueryClientProvider>
  )
}

const ok = (data: unknown) => ({ data, response: new Response() }) as never

const PLAIN = { width: 760, height: 520, fits: false, view: null, without: [] }

describe('the embed code', () => {
  it('names the address, the size and nothing else by default', () => {
    expect(embedCode('https://maps.example/e/abc/', PLAIN)).toBe(
      '<iframe src="https://maps.example/e/abc/" width="760" height="520" style="border:0" loading="lazy" title="Map"></iframe>',
    )
  })

  it('opens at a place when one is asked for', () => {
    const view = { lon: -27, lat: 52.5, zoom: 9.5, x: 0, y: 0, round: true }
    expect(embedCode('/e/abc/', { ...PLAIN, view })).toContain('src="/e/abc/#9.5/52.5/-27"')
  })

  it('fits the page around it, and leaves parts of the map’s own away', () => {
    const code = embedCode('/e/abc/', { ...PLAIN, fits: true, without: ['title', 'key'] })
    expect(code).toContain('src="/e/abc/#?without=title,key"')
    expect(code).toContain('width:100%;max-width:760px;height:auto;aspect-ratio:760/520')
  })

  it('opens with what is chosen in an address of the page, and nothing that could end the attribute', () => {
    const like = 'https://maps.example/e/abc/#9/52/-27?wells.depth=10..40&of.wells.kind=wet|dry&without=key'
    expect(embedCode('/e/abc/', { ...PLAIN, without: ['title'], like })).toContain(
      'src="/e/abc/#9/52/-27?wells.depth=10..40&amp;of.wells.kind=wet%7Cdry&amp;without=title"',
    )
    const view = { lon: 1, lat: 2, zoom: 3, x: 0, y: 0, round: true }
    expect(embedCode('/e/abc/', { ...PLAIN, view, like })).toContain('#3/2/1?wells.depth=10..40')
    const hostile = embedCode('/e/abc/', { ...PLAIN, like: '#"><script>?a="><script>' })
    expect(hostile.match(/"/g)).toHaveLength(12)
    expect(hostile).not.toContain('<script>')
  })

  it('says what an address chooses', () => {
    render(<EmbedCode address="/e/abc/" />)
    const like = (text: string) =>
      fireEvent.change(screen.getByLabelText(/^Address of the page/), { target: { value: text } })
    like('/e/abc/#9/52/-27?wells.depth=10..40&hidden=a|b')
    expect(screen.getByRole('status').textContent).toBe('Opens with 1 filter, 2 layers hidden.')
    expect(screen.getByTestId('embed-code').textContent).toContain('wells.depth=10..40')
    like('/e/abc/')
    expect(screen.getByRole('status').textContent).toContain('Nothing is chosen')
  })

  it('follows the typed size, in whole px', () => {
    render(<EmbedCode address="/e/abc/" />)
    const width = screen.getByLabelText('Width of the frame')
    fireEvent.focus(width)
    fireEvent.change(width, { target: { value: '640.4' } })
    fireEvent.keyDown(width, { key: 'Enter' })
    expect(screen.getByTestId('embed-code').textContent).toContain('width="640" height="520"')
  })
})

describe('who reads', () => {
  const editions = { address: '/e/abc/', readers: 'anyone', sites: [], editions: [] } as Editions

  it('is said by a press, and on which pages by their addresses', async () => {
    const put = vi.spyOn(client, 'PUT').mockResolvedValue(ok(editions))
    render(withQueries(<WhoReads sheetId="s" editions={editions} />))
    const sites = screen.getByLabelText('Sites whose pages may show the map')
    fireEvent.change(sites, { target: { value: 'https://a.example, https://b.example' } })
    fireEvent.blur(sites)
    await waitFor(() => expect(put).toHaveBeenCalled())
    expect(put.mock.calls[0]?.[1]).toMatchObject({
      body: { readers: 'anyone', sites: ['https://a.example', 'https://b.example'] },
    })
  })
})

const job = (state: Job['state'], more: Partial<Job> = {}): Job =>
  ({ id: 'j', kind: 'publish', title: 'Publish', state, message: 'so far', done: 3, total: 6, ...more }) as Job

describe('the files of an edition', () => {
  it('stand by what they are for, and every one of them once', () => {
    const files = [
      'a.geojson',
      'index.html',
      'labels.json',
      'labels.pmtiles',
      'map.json',
      'map.zip',
      'pictures-a.pmtiles',
      'sheet.json',
      'style.json',
    ]
    const uses = filesByUse(files)
    expect(uses).toEqual([
      ['page', ['index.html']],
      ['whole map', ['map.json', 'map.zip']],
      ['layers as pictures', ['pictures-a.pmtiles']],
      ['vector tiles', ['labels.pmtiles']],
      ['features', ['a.geojson']],
      ['sheet', ['sheet.json']],
      ['descriptions', ['labels.json', 'style.json']],
    ])
    expect(uses.flatMap(([, names]) => names).sort()).toEqual(files)
  })
})

describe('a job', () => {
  it('shows how far it is while it runs', () => {
    render(withQueries(<JobLine job={job('running')} />))
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('50')
    expect(screen.getByText('so far')).toBeTruthy()
  })

  it('says what it waits for, without a length that nobody knows', () => {
    render(withQueries(<JobLine job={job('waiting', { total: 0 })} />))
    expect(screen.getByText('waiting for a worker')).toBeTruthy()
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBeNull()
  })

  it('can be stopped while it is live, and not after', async () => {
    const post = vi.spyOn(client, 'POST').mockResolvedValue(ok(job('stopped')))
    const { rerender } = render(withQueries(<JobLine job={job('running')} />))
    fireEvent.click(screen.getByRole('button', { name: 'Stop' }))
    await waitFor(() =>
      expect(post).toHaveBeenCalledWith('/api/jobs/{job_id}/stop', { params: { path: { job_id: 'j' } } }),
    )
    rerender(withQueries(<JobLine job={job('failed', { message: 'disk full' })} />))
    expect(screen.queryByRole('button', { name: 'Stop' })).toBeNull()
    expect(screen.getByText('Failed: disk full')).toBeTruthy()
  })
})

const edition = (number: number, current: boolean): Edition => ({
  number, current, published: '2026-05-03T10:00:00Z', address: `http://127.0.0.1:8800/e/abc/${number}/`,
  tiles: 9, min_zoom: 8, max_zoom: 12, size: 512, format: 'png', files: [], crs: 'EPSG:3857',
  asked: { size: 512, format: 'png', min_zoom: null, max_zoom: 12 },
}) // prettier-ignore

describe('the edition that readers have', () => {
  it('lies over the sheet while it is shown, and leaves no trace', async () => {
    vi.spyOn(client, 'GET').mockResolvedValue(ok({ address: 'x', editions: [edition(2, false), edition(1, true)] }))
    const own = { setVisible: vi.fn() }
    const map = { getLayers: () => ({ getArray: () => [own] }), addLayer: vi.fn(), removeLayer: vi.fn() }
    mapBridge.set(map as never)
    openSheet('s')
    const { unmount } = render(withQueries(<LastEdition />))
    await waitFor(() => expect(map.addLayer).toHaveBeenCalledOnce())
    const tiles = map.addLayer.mock.calls[0]?.[0] as { getSource: () => { getUrls: () => string[] } }
    expect(tiles.getSource().getUrls()).toEqual(['/e/abc/1/map/{z}/{x}/{y}.png'])
    expect(screen.getByRole('status').textContent).toBe('Edition 1, as readers have it since 3 May 2026, 10:00')
    expect(own.setVisible).toHaveBeenLastCalledWith(false)
    unmount()
    expect(map.removeLayer).toHaveBeenCalledWith(tiles)
    expect(own.setVisible).toHaveBeenLastCalledWith(true)
  })

  it('says that there is none', async () => {
    vi.spyOn(client, 'GET').mockResolvedValue(ok({ address: null, editions: [] }))
    openSheet('s')
    render(withQueries(<LastEdition />))
    await waitFor(() => expect(screen.getByText('Nothing is published yet')).toBeTruthy())
  })
})

function openSheet(id: string): void {
  useSheet.getState().open(id, 1, whole('Sheet', { title: 'T' }))
}
