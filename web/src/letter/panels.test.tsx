// @vitest-environment happy-dom
import { QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { begunQueries, classedLayer } from '../api/forTests'
import type { Dataset, Lettering } from '../api/types'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { byHand, changeByHand } from './byHand'
import { DressPanel } from './DressPanel'
import { PlacePanel } from './PlacePanel'
import { amissIn, asField, firstField, withField } from './template'
import { TextPanel } from './TextPanel'

afterEach(cleanup)

const field = (name: string, type: string) => ({ name, type, missing: 0, meaning: {} })
const dataset = (kind: string) =>
  ({ id: 'd', kind, fields: [field('name', 'text'), field('share: peat', 'number')] }) as unknown as Dataset
const lettering: Lettering = whole('Lettering', { lines: [{ text: '{name}', weight: 700 }] })
const typed = (label: RegExp | string, value: string) => {
  const entry = screen.getByLabelText(label)
  fireEvent.focus(entry)
  fireEvent.change(entry, { target: { value } })
  fireEvent.keyDown(entry, { key: 'Enter' })
}

describe('templates', () => {
  it('name fields as the core does', () => {
    expect(asField('peat_ha')).toBe('{peat_ha}')
    expect(asField('share: peat')).toBe('{"share: peat"}')
    expect(withField('{name}', 'peat_ha')).toBe('{name} {peat_ha}')
    expect(withField('no. ', 'n')).toBe('no. {n}')
    expect(firstField('no. {n:.1f} of {name}')).toBe('n')
    expect(firstField('{"share: peat"}')).toBe('share: peat')
    expect(firstField('{{ plain }}')).toBeNull()
  })

  it('tell what is wrong with them', () => {
    expect(amissIn('{name}, {{ {"share: peat":.1f}', ['name', 'share: peat'])).toBe('')
    expect(amissIn('{name', ['name'])).toBe('A brace stands alone.')
    expect(amissIn('{nam}', ['name'])).toBe("There is no field 'nam'.")
  })
})

describe('lines of labels', () => {
  const shown = (lettering: Lettering, onChange: () => void) => {
    const panel = (
      <TextPanel layer={classedLayer('a', {})} lettering={lettering} dataset={dataset('areas')} onChange={onChange} />
    )
    render(<QueryClientProvider client={begunQueries()}>{panel}</QueryClientProvider>)
  }

  it('are typed, and kept only when they can be read', () => {
    const onChange = vi.fn()
    shown(lettering, onChange)
    typed('Text of line 1', '{name')
    expect(onChange).not.toHaveBeenCalled()
    expect(screen.getByLabelText('Text of line 1').getAttribute('aria-invalid')).toBe('true')
    typed('Text of line 1', '{name} Water')
    expect(onChange).toHaveBeenLastCalledWith('line-0-text', {
      lines: [{ ...lettering.lines[0], text: '{name} Water' }],
    })
  })

  it('are begun by the server, and set within what there is', async () => {
    const onChange = vi.fn()
    const line = { ...lettering.lines[0], size: 10, text: '{"share: peat"}' }
    const asked = vi.spyOn(client, 'POST').mockResolvedValue({ data: line, response: new Response() } as never)
    shown(lettering, onChange)
    fireEvent.click(screen.getByRole('button', { name: 'Add a line' }))
    await waitFor(() => expect(onChange).toHaveBeenLastCalledWith('lines', { lines: [lettering.lines[0], line] }))
    expect(asked).toHaveBeenCalledWith('/api/draw/line', { body: expect.objectContaining({ lettering }) as object })
    typed('Size of line 1, px', '400')
    expect(onChange.mock.lastCall?.[1].lines[0].size).toBe(72)
    typed(/Space between the letters of line 1/, '25')
    expect(onChange.mock.lastCall?.[1].lines[0].spacing).toBe(0.25)
    typed(/Characters after which line 1/, '2')
    expect(onChange.mock.lastCall?.[1].lines[0].wrap).toBe(4)
  })

  it('keep the nearest weight in a family that lacks theirs', () => {
    const onChange = vi.fn()
    const slanted = whole('Lettering', { lines: [{ text: '{name}', weight: 500, italic: true }] })
    shown(slanted, onChange)
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Family of line 1' }))
    fireEvent.click(screen.getByRole('option', { name: 'Narrow' }))
    expect(onChange.mock.lastCall?.[1].lines[0]).toMatchObject({ family: 'narrow', weight: 400, italic: false })
  })
})

describe('places of labels', () => {
  it('around points are numbered, taken out and put last', () => {
    const onChange = vi.fn()
    const two = whole('Lettering', { lines: [{ text: 'a' }], sides: ['right', 'left'] })
    render(<PlacePanel lettering={two} dataset={dataset('points')} onChange={onChange} />)
    fireEvent.click(screen.getByRole('button', { name: 'right, place 1' }))
    expect(onChange).toHaveBeenLastCalledWith('sides', { sides: ['left'] })
    fireEvent.click(screen.getByRole('button', { name: 'above left' }))
    expect(onChange).toHaveBeenLastCalledWith('sides', { sides: ['right', 'left', 'above-left'] })
  })

  it('of areas and lines have what is theirs', () => {
    const onChange = vi.fn()
    const { rerender } = render(<PlacePanel lettering={lettering} dataset={dataset('areas')} onChange={onChange} />)
    fireEvent.click(screen.getByLabelText('or beside it, with a leader'))
    expect(onChange).toHaveBeenLastCalledWith('outside', { outside: true })
    fireEvent.click(screen.getByLabelText('names along their spine'))
    expect(onChange).toHaveBeenLastCalledWith('course', { course: 'curved' })
    typed(/Px that labels may shrink to/, '40')
    expect(onChange).toHaveBeenLastCalledWith('smallest', { smallest: 12 })
    rerender(<PlacePanel lettering={lettering} dataset={dataset('lines')} onChange={onChange} />)
    expect(screen.getByRole('combobox', { name: 'Along lines' }).textContent).toBe('level, upon the middle')
    expect(screen.queryByLabelText('over the line')).toBeNull()
  })
})

describe('dress of labels', () => {
  it('has plates and shadows that begin whole and go again', () => {
    const onChange = vi.fn()
    const begun = {
      frame: { shape: 'box' as const, fill: '#ffffff', outline: '#222222', width: 1, room: 3 },
      label_shadow: { colour: '#000000', opacity: 0.4, right: 1, down: 1, blur: 1 },
    }
    const layer = whole('Layer', { id: 'a', name: 'A', dataset: 'd', symbology: { kind: 'symbols' } } as never)
    const shared = { layer, dataset: dataset('points'), begun, onChange }
    const { rerender } = render(<DressPanel {...shared} lettering={lettering} />)
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Plate' }))
    fireEvent.click(screen.getByRole('option', { name: 'shield: hexagon' }))
    const [, { frame }] = onChange.mock.lastCall as [string, { frame: Lettering['frame'] }]
    expect(frame).toMatchObject({ shape: 'hexagon', width: 1, room: 3 })
    rerender(<DressPanel {...shared} lettering={{ ...lettering, frame: frame ?? null }} />)
    typed(/Px between the text and the plate/, '99')
    expect(onChange.mock.lastCall?.[1].frame.room).toBe(30)
    fireEvent.click(screen.getByLabelText('cast a shadow'))
    expect(onChange.mock.lastCall?.[1].shadow).toMatchObject({ right: 1, down: 1, blur: 1 })
  })
})

describe('what is done by hand', () => {
  beforeEach(() => {
    const layer = whole('Layer', { id: 'a', name: 'A', dataset: 'd', symbology: { kind: 'symbols' } } as never)
    const sheet = whole('Sheet', { title: 'T', layers: [{ ...layer, lettering }] } as never)
    useSheet.setState({ id: 's', document: sheet, past: [], future: [] })
  })
  const hands = () => useSheet.getState().document?.layers[0]?.lettering?.by_hand ?? []

  it('adds up for a feature, and is put back at once', () => {
    changeByHand('a', 7, 'move', { at: [1, 2] })
    changeByHand('a', 7, 'turn', { turn: 20 })
    changeByHand('a', 9, 'hide', { hidden: true })
    expect(byHand(hands(), 7)).toMatchObject({ fid: 7, at: [1, 2], turn: 20, hidden: false, leader: false })
    expect(byHand(hands(), 8)).toBeNull()
    changeByHand('a', 7, 'back', null)
    expect(hands().map(({ fid }) => fid)).toEqual([9])
    useSheet.getState().undo()
    expect(hands().map(({ fid }) => fid)).toEqual([7, 9])
  })
})
