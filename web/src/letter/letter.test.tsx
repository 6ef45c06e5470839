// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import type { ReactNode } from 'react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import type { Dataset, Lettering } from '../api/types'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { ContestFields } from './ContestFields'
import { LeftOut } from './LeftOut'

afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

const field = (name: string, type: string) => ({ name, type, missing: 0, meaning: {} })
const dataset = {
  id: 'd',
  kind: 'areas',
  fields: [field('name', 'text'), field('code', 'text'), field('people', 'number')],
} as unknown as Dataset
const lettering: Lettering = whole('Lettering', { lines: [{ text: '{name}' }] })
const ok = (data: unknown) => ({ data, response: new Response() }) as never

function withQueries(children: ReactNode): ReactNode {
  return <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
}

describe('who gets room', () => {
  const typed = (label: RegExp, value: string) => {
    const entry = screen.getByLabelText(label)
    fireEvent.focus(entry)
    fireEvent.change(entry, { target: { value } })
    fireEvent.keyDown(entry, { key: 'Enter' })
  }

  it('is said by fields and numbers, within what there is', () => {
    const onChange = vi.fn()
    render(<ContestFields lettering={lettering} dataset={dataset} onChange={onChange} />)
    expect(screen.getByText('larger areas')).toBeTruthy()
    typed(/same name stands once/, '300')
    expect(onChange).toHaveBeenLastCalledWith('once', { once_within: 200 })
    typed(/Priority of the layer/, '-40')
    expect(onChange).toHaveBeenLastCalledWith('priority', { priority: -10 })
    typed(/Scale farther than which/, '250000')
    expect(onChange).toHaveBeenLastCalledWith('scales', { scales: { closest: null, farthest: 250000 } })
  })
})

describe('labels that are left out', () => {
  it('are counted by level, and listed with why; each leads to its feature', async () => {
    vi.spyOn(client, 'POST').mockImplementation((() =>
      Promise.resolve(ok([{ fid: 4, text: 'Skara', why: 'it does not fit inside' }]))) as never)
    const post = vi
      .spyOn(globalThis, 'fetch')
      .mockImplementation(() =>
        Promise.resolve(Response.json({ labels: [], faces: {}, left_out: { a: [4] }, by_hand: {} })),
      )
    const layer = whole('Layer', {
      id: 'a',
      name: 'A',
      dataset: 'd',
      symbology: { kind: 'symbols' },
      lettering: { lines: [{ text: '{name}' }] },
    } as never)
    useSheet.setState({
      id: 's',
      document: whole('Sheet', {
        title: 'T',
        layers: [{ ...layer, group: 'g' }],
        groups: [{ id: 'g', name: 'G' }],
      } as never),
      layerId: 'a',
      level: 9,
      fid: null,
      also: [],
      of: null,
    })
    render(withQueries(<LeftOut />))
    await waitFor(() => expect(screen.getAllByText('1 left out')).toHaveLength(5))
    expect(JSON.parse(String(post.mock.calls[0]?.[1]?.body))).toMatchObject({ groups: [{ id: 'g' }] })
    fireEvent.click(screen.getAllByRole('button', { name: '1 left out' })[0] as HTMLElement)
    const row = await screen.findByRole('button', { name: 'Skara' })
    expect(row.parentElement?.textContent).toContain('it does not fit inside')
    fireEvent.click(row)
    expect(useSheet.getState().fid).toBe(4)
  })
})
