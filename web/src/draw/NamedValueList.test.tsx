// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { ThemeProvider } from '@mui/material/styles'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { themeFor } from '../theme'
import { NamedValueList } from './NamedValueList'

const values = [
  { value: 1, name: 'heath', colour: '#aa0000', drawn: true },
  { value: 2.5, name: '', colour: '#00aa00', drawn: true },
]
let last = values
beforeEach(() => {
  last = values
  render(
    <ThemeProvider theme={themeFor('light')}>
      <NamedValueList values={values} onChange={(next) => (last = next)} />
    </ThemeProvider>,
  )
})
afterEach(cleanup)

describe('named values', () => {
  it('have a line each, with what they stand for', () => {
    expect(screen.getAllByRole('listitem')).toHaveLength(2)
    expect(screen.getByLabelText<HTMLInputElement>('Name of 1').value).toBe('heath')
  })

  it('are named when their field is left, and only they change', () => {
    const field = screen.getByLabelText('Name of 2.5')
    fireEvent.change(field, { target: { value: 'bog' } })
    expect(last).toBe(values)
    fireEvent.blur(field)
    expect(last.map(({ name }) => name)).toEqual(['heath', 'bog'])
  })

  it('can be left out of the map', () => {
    fireEvent.click(screen.getByLabelText('Draw 1'))
    expect(last.map(({ drawn }) => drawn)).toEqual([false, true])
  })
})
