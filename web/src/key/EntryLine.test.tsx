// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { ThemeProvider } from '@mui/material/styles'
import { afterEach, beforeEach, describe, expect, it } from 'vitest'
import { classedLayer, markOf } from '../api/forTests'
import { whole } from '../api/whole'
import type { KeyEntry } from '../api/types'
import { layerOf, useSheet } from '../sheet/store'
import { themeFor } from '../theme'
import { EntryLine } from './EntryLine'

const entry = (id: string) =>
  ({ id, mark: markOf('#123456'), text: id, made_text: id, count: 3, hidden: false, limits: null }) as KeyEntry
const ORDER = ['c', 'b', 'a']
const line = (id: string) => (
  <ThemeProvider theme={themeFor('light')}>
    <EntryLine layerId="l" entry={entry(id)} kind="areas" locked={false} place={id} wide={30} order={ORDER} />
  </ThemeProvider>
)
const key = () => layerOf('l')?.key

function reword(field: HTMLElement, text: string) {
  fireEvent.focus(field)
  fireEvent.change(field, { target: { value: text } })
  fireEvent.blur(field)
}

beforeEach(() => {
  const layers = [classedLayer('l', { method: 'quantile', classes: 3 })]
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers }))
})
afterEach(cleanup)

describe('an entry of the key', () => {
  it('is moved up, and the others keep their order', () => {
    render(line('a'))
    fireEvent.click(screen.getByLabelText('Move a up'))
    expect(key()?.order).toEqual(['c', 'a', 'b'])
  })

  it('is moved down by keys, the first of them by its button', () => {
    render(line('c'))
    fireEvent.keyDown(screen.getByLabelText('Text of c'), { key: 'ArrowDown', altKey: true, shiftKey: true })
    expect(key()?.order).toEqual(['b', 'c', 'a'])
    fireEvent.click(screen.getByLabelText('Move c down'))
    expect(key()?.order).toEqual(['b', 'c', 'a'])
  })

  it('stays where there is no further place', () => {
    render(line('a'))
    fireEvent.keyDown(screen.getByLabelText('Text of a'), { key: 'ArrowDown', altKey: true, shiftKey: true })
    expect(key()?.order).toEqual([])
  })

  it('is reworded, and goes back to its own words when these are taken away', () => {
    render(line('b'))
    const field = screen.getByLabelText('Text of b')
    reword(field, 'middling')
    expect(key()?.entries).toEqual({ b: 'middling' })
    reword(field, ' ')
    expect(key()?.entries).toEqual({})
  })

  it('is left out of the key and put back', () => {
    render(line('b'))
    fireEvent.click(screen.getByLabelText('Leave out b'))
    expect(key()?.hidden).toEqual(['b'])
  })
})
