// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { useState } from 'react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { whole } from '../api/whole'
import * as layerActions from '../sheet/layerActions'
import type { UploadState } from './arriving'
import { BringingIn } from './BringingIn'
import { useGather } from './gatherState'
import { Arrivals } from './Arrivals'
import { ImportPanel } from './ImportPanel'

const preview = whole('Preview', {
  kind: 'raster',
  file: 'a.tif',
  format: 'GeoTIFF',
  title: 'Peat',
  encoding: null,
  delimiter: null,
  header: null,
  located: true,
  crs: 'EPSG:32626',
  crs_reason: 'As the file says.',
  fields: [],
  rows: [],
  notes: [],
})

/** Answers to POST, given when the test wants. */
let waiting: { path: string; body: unknown; answer: (data: unknown, status?: number) => void }[] = []

beforeEach(() => {
  waiting = []
  vi.spyOn(client, 'POST').mockImplementation(
    ((path: string, request: { body?: unknown }) =>
      new Promise((done) => {
        waiting.push({
          path,
          body: request.body,
          answer: (data, status = 200) =>
            done(
              status === 200
                ? { data, response: new Response() }
                : { error: data, response: new Response(null, { status }) },
            ),
        })
      })) as never,
  )
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

const file = new File(['a'], 'a.tif')

function Page({ onState }: { onState: (state: UploadState | null) => void }) {
  const [upload, setUpload] = useState<UploadState | null>({
    id: 'u',
    preview,
    corrections: { source: 'A diary' },
    file,
  })
  if (!upload) return null
  return (
    <ImportPanel
      upload={upload}
      onUpload={(next) => {
        setUpload(next)
        onState(next)
      }}
      onDone={vi.fn()}
      last
    />
  )
}

function open() {
  const onState = vi.fn<(state: UploadState | null) => void>()
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Page onState={onState} />
    </QueryClientProvider>,
  )
  return onState
}

function rename(title: string) {
  const field = screen.getByLabelText('Title of the dataset')
  act(() => field.focus())
  fireEvent.change(field, { target: { value: title } })
  fireEvent.keyDown(field, { key: 'Enter' })
}

describe('bringing a file in', () => {
  it('takes a correction along whose preview is not there yet', async () => {
    open()
    rename('Depth of peat')
    await waitFor(() => expect(waiting).toHaveLength(1))
    fireEvent.click(screen.getByRole('button', { name: 'Bring in raster' }))
    await waitFor(() => expect(waiting).toHaveLength(2))
    expect(waiting[1]).toMatchObject({
      path: '/api/uploads/{upload_id}/import',
      body: { source: 'A diary', title: 'Depth of peat' },
    })
  })

  it('takes back a correction that the server refuses, and says why', async () => {
    const onState = open()
    rename('Depth of peat')
    await waitFor(() => expect(waiting).toHaveLength(1))
    waiting[0]?.answer({ detail: 'That title is too long.' }, 422)
    await waitFor(() => expect(screen.getByRole('alert').textContent).toBe('That title is too long.'))
    expect(onState).toHaveBeenLastCalledWith({ id: 'u', preview, corrections: { source: 'A diary' }, file })
  })

  it('shows the preview of the latest correction only', async () => {
    const onState = open()
    rename('One')
    await waitFor(() => expect(waiting).toHaveLength(1))
    rename('Two')
    await waitFor(() => expect(waiting).toHaveLength(2))
    waiting[1]?.answer({ ...preview, title: 'Two' })
    await waitFor(() => expect(onState.mock.lastCall?.[0]?.preview.title).toBe('Two'))
    waiting[0]?.answer({ ...preview, title: 'One' })
    await new Promise((done) => setTimeout(done, 20))
    expect(onState.mock.lastCall?.[0]).toMatchObject({ preview: { title: 'Two' }, corrections: { title: 'Two' } })
  })

  it('offers the next file, whatever became of the one before', async () => {
    const done = { id: 'j', kind: 'import', title: 'Import of a.tif', state: 'done', result: { dataset: 'd' } }
    vi.spyOn(client, 'GET').mockImplementation((() =>
      Promise.resolve({ data: done, response: new Response() })) as never)
    const first: UploadState = { id: 'first', preview, corrections: {}, file }
    let state: UploadState = first
    const panel = (upload: UploadState) => (
      <QueryClientProvider client={queries}>
        <ImportPanel
          key={upload.id}
          upload={upload}
          onUpload={(next) => {
            state = next ?? first
            page.rerender(panel(state))
          }}
          onDone={vi.fn()}
          last
        />
      </QueryClientProvider>
    )
    const queries = new QueryClient()
    const page = render(panel(first))
    fireEvent.click(screen.getByRole('button', { name: 'Bring in raster' }))
    await waitFor(() => expect(waiting).toHaveLength(1))
    waiting[0]?.answer({ id: 'j' })
    await waitFor(() => expect(screen.getByRole('button', { name: 'To the library' })).toBeTruthy())
    expect(state).toMatchObject({ job: 'j', draw: false })
    page.rerender(panel({ ...first, id: 'second' }))
    expect(screen.getByRole('button', { name: 'Bring in raster' })).toBeTruthy()
    expect(screen.queryByRole('button', { name: 'To the library' })).toBeNull()
    page.rerender(panel(state))
    expect(screen.queryByRole('button', { name: 'Bring in raster' }), 'it is not brought in twice').toBeNull()
  })

  it('has room for the next file where one was seen to come in', () => {
    vi.spyOn(client, 'GET').mockReturnValue(new Promise(() => undefined) as never)
    const sent = (id: string, done: boolean) => ({ id, preview, corrections: {}, job: 'j', done })
    useGather.setState({ uploads: [sent('in the library', true), sent('on its way', false)] })
    const page = render(
      <QueryClientProvider client={new QueryClient()}>
        <Arrivals onDone={vi.fn()} />
      </QueryClientProvider>,
    )
    expect(screen.getAllByRole('button', { name: preview.file })).toHaveLength(2)
    page.unmount()
    expect(useGather.getState().uploads.map(({ id }) => id)).toEqual(['on its way'])
  })

  it('draws what was asked, and once, though something else is looked at meanwhile', async () => {
    const job = { id: 'j', kind: 'import', title: 'Import of a.tif', state: 'done', result: { dataset: 'd' } }
    vi.spyOn(client, 'GET').mockImplementation(((path: string) =>
      Promise.resolve({
        data: path.includes('jobs') ? job : { id: 'd', bounds: null },
        response: new Response(),
      })) as never)
    const added = vi.spyOn(layerActions, 'addLayer').mockImplementation(() => undefined as never)
    useGather.setState({ uploads: [{ id: 'u', preview, corrections: {}, job: 'j', draw: true }] })
    const page = render(
      <QueryClientProvider client={new QueryClient()}>
        <BringingIn />
      </QueryClientProvider>,
    )
    await waitFor(() => expect(useGather.getState().uploads[0]?.done).toBe(true))
    expect(added).toHaveBeenCalledTimes(1)
    expect(useGather.getState().arrived).toBe('d')
    page.unmount()
    expect(useGather.getState().uploads, 'they were sent for this sheet').toEqual([])
  })

  it('cannot be begun while something is wrong with the file', () => {
    render(
      <QueryClientProvider client={new QueryClient()}>
        <ImportPanel
          upload={{ id: 'u', preview: { ...preview, problem: 'Row 3 has 4 cells.' }, corrections: {}, file }}
          onUpload={vi.fn()}
          onDone={vi.fn()}
          last
        />
      </QueryClientProvider>,
    )
    expect(screen.getByRole('alert').textContent).toBe('Row 3 has 4 cells.')
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Bring in raster' }).disabled).toBe(true)
  })
})
