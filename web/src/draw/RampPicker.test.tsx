// @vitest-environment happy-dom
import { QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { begunQueries } from '../api/forTests'
import type { RampChoice } from '../api/types'
import { RampPicker } from './RampPicker'

const alike = { vision: 'deutan', readers: 'readers without green cones (deuteranopes)', position: 1, apart: 3.5 }
const ramps = [
  { name: 'heather', family: 'sequential', colours: ['#ffffff', '#aa88aa', '#331133'], alike: [] },
  { name: 'bog', family: 'diverging', colours: ['#884400', '#ffffff', '#004488'], alike: [alike] },
]

const mine = [
  {
    id: 'r',
    name: 'dusk',
    stops: ['#223344', '#ddccbb'],
    colours: ['#223344', '#887f80', '#ddccbb'],
    alike: [],
    owner: 'isla',
    may: ['see', 'remove'],
  },
]

beforeEach(() => {
  vi.spyOn(client, 'GET').mockImplementation((path) =>
    Promise.resolve({ data: (path as string) === '/api/ramps' ? mine : ramps, response: new Response() } as never),
  )
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

function show(value: RampChoice | null, optional = false) {
  const onChange = vi.fn()
  render(
    <QueryClientProvider client={begunQueries()}>
      <RampPicker
        value={value}
        classes={3}
        colours={['#ffffff', '#aa88aa', '#331133']}
        optional={optional}
        onChange={onChange}
      />
    </QueryClientProvider>,
  )
  return onChange
}

describe('the ramp picker', () => {
  it('asks for as many colours as there are classes and groups by family', async () => {
    show({ name: 'heather', reverse: false, replaced: {}, stops: [] })
    const chosen = await screen.findByRole('button', { name: /^Ramp heather/ })
    expect(chosen.getAttribute('aria-pressed')).toBe('true')
    expect(client.GET).toHaveBeenCalledWith('/api/draw/ramps', { params: { query: { n: 3 } } })
    expect(screen.getByRole('group', { name: 'diverging' }).textContent).toContain('bog')
  })

  it('says for whom neighbours look alike', async () => {
    show(null)
    expect(
      await screen.findByRole('button', {
        name: /bog. Neighbours look alike to readers without green cones \(deuteranopes\) \(3.5\)/,
      }),
    ).toBeTruthy()
    expect(screen.getByRole('button', { name: /heather. All readers tell/ })).toBeTruthy()
  })

  it('keeps the direction when another ramp is taken, and lets go of replaced colours', async () => {
    const onChange = show({ name: 'heather', reverse: true, replaced: { 1: '#123456' }, stops: [] })
    fireEvent.click(await screen.findByRole('button', { name: /^Ramp bog/ }))
    expect(onChange).toHaveBeenCalledWith({ name: 'bog', reverse: true, replaced: {}, stops: [] })
  })

  it('turns round, and replaces one colour by hand', () => {
    const onChange = show({ name: 'heather', reverse: false, replaced: { 0: '#eeeeee' }, stops: [] })
    fireEvent.click(screen.getByRole('button', { name: 'Reverse' }))
    expect(onChange).toHaveBeenLastCalledWith({ name: 'heather', reverse: true, replaced: { 0: '#eeeeee' }, stops: [] })
    fireEvent.change(screen.getByLabelText('Colour of class 3'), { target: { value: '#010203' } })
    expect(onChange).toHaveBeenLastCalledWith({
      name: 'heather',
      reverse: false,
      replaced: { 0: '#eeeeee', 2: '#010203' },
      stops: [],
    })
  })

  it('goes back to one colour where a ramp is optional', () => {
    const onChange = show({ name: 'heather', reverse: false, replaced: {}, stops: [] }, true)
    fireEvent.click(screen.getByRole('button', { name: 'One colour' }))
    expect(onChange).toHaveBeenCalledWith(null)
  })

  it('begins a ramp by hand with the colours of now; the server says where another stop lies', async () => {
    const onChange = show({ name: 'heather', reverse: false, replaced: {}, stops: [] })
    fireEvent.click(screen.getByRole('button', { name: 'By hand' }))
    const begun = onChange.mock.lastCall?.[0] as { stops: string[] }
    expect(begun.stops).toHaveLength(3)
    cleanup()
    const again = show({ name: 'heather', reverse: false, replaced: {}, stops: ['#ffffff', '#880000', '#000000'] })
    fireEvent.change(screen.getByLabelText('Stop 2'), { target: { value: '#008800' } })
    expect(again).toHaveBeenLastCalledWith(expect.objectContaining({ stops: ['#ffffff', '#008800', '#000000'] }))
    fireEvent.click(screen.getByRole('button', { name: 'Mix stop 2' }))
    fireEvent.click(screen.getByRole('button', { name: 'A stop less' }))
    expect(again).toHaveBeenLastCalledWith(expect.objectContaining({ stops: ['#ffffff', '#000000'] }))
    const refined = ['#ffffff', '#880000', '#440000', '#000000']
    vi.spyOn(client, 'GET').mockResolvedValue({ data: refined, response: new Response() } as never)
    fireEvent.click(screen.getByRole('button', { name: 'Another stop' }))
    await vi.waitFor(() => expect(again).toHaveBeenLastCalledWith(expect.objectContaining({ stops: refined })))
  })

  it('has those that one keeps, whose stops are taken', async () => {
    const onChange = show({ name: 'bog', reverse: false, replaced: {}, stops: [] })
    const remove = vi.spyOn(client, 'DELETE').mockResolvedValue({ data: undefined, response: new Response() } as never)
    const own = await screen.findByRole('button', { name: /^Ramp dusk/ })
    fireEvent.click(own)
    expect(onChange).toHaveBeenCalledWith({ name: 'bog', reverse: false, replaced: {}, stops: ['#223344', '#ddccbb'] })
    fireEvent.keyDown(own, { key: 'Delete' })
    await vi.waitFor(() =>
      expect(remove).toHaveBeenCalledWith('/api/ramps/{ramp_id}', { params: { path: { ramp_id: 'r' } } }),
    )
  })
})
