// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, describe, expect, it, vi } from 'vitest'
import { EditableNumber } from '../bench/EditableNumber'
import { EditableText } from './EditableText'
import { markOf } from '../api/forTests'
import { Swatch } from './Swatch'

afterEach(cleanup)
const mark = markOf('#336699', {
  radius: 9,
  strokes: [{ colour: '#000000', width: 1, opacity: 1, dash: [], cap: 'round' }],
})

describe('EditableText', () => {
  const setUp = (locked = false) => {
    const onChange = vi.fn()
    render(<EditableText label="Words" value="one" onChange={onChange} locked={locked} />)
    return { onChange, field: screen.getByLabelText<HTMLInputElement>('Words') }
  }

  it('keeps what was typed on Enter', () => {
    const { onChange, field } = setUp()
    field.focus()
    fireEvent.change(field, { target: { value: 'two' } })
    fireEvent.keyDown(field, { key: 'Enter' })
    expect(onChange).toHaveBeenCalledWith('two')
  })

  it('takes it back on Escape', () => {
    const { onChange, field } = setUp()
    fireEvent.focus(field)
    fireEvent.change(field, { target: { value: 'two' } })
    fireEvent.keyDown(field, { key: 'Escape' })
    expect(field.value).toBe('one')
    expect(onChange).not.toHaveBeenCalled()
  })

  it('is read only while locked', () => {
    const { field } = setUp(true)
    expect(field.readOnly).toBe(true)
    expect(field.tabIndex).toBe(-1)
  })
})

describe('EditableNumber', () => {
  const type = (text: string) => {
    const onChange = vi.fn()
    render(<EditableNumber label="Size" value={5} onChange={onChange} />)
    const field = screen.getByLabelText('Size')
    fireEvent.focus(field)
    fireEvent.change(field, { target: { value: text } })
    fireEvent.keyDown(field, { key: 'Enter' })
    return onChange
  }

  it('takes numbers, also with thousands', () => {
    expect(type('1,250.5')).toHaveBeenCalledWith(1250.5)
  })

  it('takes the nearest that may be, and says what that is', () => {
    const onChange = vi.fn()
    render(<EditableNumber label="Size" value={5} limits={{ least: 2, most: 9 }} onChange={onChange} />)
    const field = screen.getByLabelText('Size')
    fireEvent.focus(field)
    fireEvent.change(field, { target: { value: '20' } })
    fireEvent.blur(field)
    expect(onChange).toHaveBeenCalledWith(9)
    expect(screen.getByTitle('2 to 9')).toBeTruthy()
  })

  it('takes nothing else', () => {
    for (const text of ['', 'abc', '5', 'Infinity']) {
      expect(type(text)).not.toHaveBeenCalled()
      cleanup()
    }
  })
})

describe('Swatch', () => {
  it('shows points at their size on the map', () => {
    const { container } = render(<Swatch mark={mark} kind="points" />)
    expect(container.querySelector('circle')?.getAttribute('r')).toBe('9')
    expect(Number(container.querySelector('svg')?.getAttribute('width'))).toBeGreaterThanOrEqual(20)
  })

  it('shows areas as boxes, lines as lines, and what is not drawn as a dashed box', () => {
    expect(render(<Swatch mark={mark} kind="areas" />).container.querySelector('rect')).not.toBeNull()
    expect(render(<Swatch mark={mark} kind="lines" />).container.querySelector('path')).not.toBeNull()
    expect(render(<Swatch mark={null} kind="areas" />).container.querySelector('[stroke-dasharray]')).not.toBeNull()
  })
})
