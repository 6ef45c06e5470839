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
import { KeySectionLines } from './KeySectionLines'

const entry = (id: string) =>
  ({ id, mark: markOf('#123456'), text: id, made_text: id, count: 3, hidden: false, limits: null }) as KeyEntry
const ORDER = ['c', 'b', 'a']
const line = (id: string) => (
  <ThemeProvider theme={themeFor('light')}>
    <EntryLine
      layerId="l"
      entry={entry(id)}
      kind="areas"
      locked={false}
      place={id}
      wide={30}
      narrow={false}
      order={ORDER}
    />
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

describe('circles in one another', () => {
  const sized = (id: string, radius: number) => ({ ...entry(id), mark: markOf('#336699', { radius }) })
  const section = (nested: boolean) => ({
    heading: '',
    channel: 'size',
    entries: [sized('900', 20), sized('100', 6)],
    ramp: [],
    ends: [],
    square: null,
    words: [],
    numeric: true,
    nested,
    sides: [],
  })
  const lines = (nested: boolean) =>
    render(
      <ThemeProvider theme={themeFor('light')}>
        <KeySectionLines section={section(nested)} classes={[]} layerId="l" kind="points" locked={false} columns={1} />
      </ThemeProvider>,
    )

  it('are one picture, whose words are reworded as ever', () => {
    const { container } = lines(true)
    const circles = [...container.querySelectorAll('circle[fill="#336699"]')]
    const lowest = circles.map((circle) => Number(circle.getAttribute('cy')) + Number(circle.getAttribute('r')))
    expect(circles).toHaveLength(2)
    expect(lowest[0]).toBe(lowest[1])
    expect(screen.queryByLabelText('Symbol of 900')).toBeNull()
    reword(screen.getByLabelText('Text of 900'), '900 t')
    expect(key()?.entries).toEqual({ '900': '900 t' })
    fireEvent.click(screen.getByLabelText('Circles in one another'))
    expect(useSheet.getState().stage).toBe('draw')
  })

  it('stand one by one otherwise', () => {
    lines(false)
    expect(screen.getByLabelText('Symbol of 900')).toBeTruthy()
    expect(screen.queryByLabelText('Circles in one another')).toBeNull()
  })
})

describe('the square of two classifications', () => {
  const side = (id: string, text: string) => ({ id, text, made_text: text, limits: '0 – 5 – 9' })
  const section = {
    heading: '',
    channel: 'colour',
    entries: ['a', 'b', 'c', 'd'].map(entry),
    ramp: [],
    ends: [],
    square: [2, 2] as [number, number],
    words: [],
    numeric: true,
    nested: false,
    sides: [side('across', 'carbon_t'), side('up', 'peat_ha')],
  }

  it('names its sides, in other words where its maker wants', () => {
    const { container } = render(
      <ThemeProvider theme={themeFor('light')}>
        <KeySectionLines section={section} classes={[]} layerId="l" kind="areas" locked={false} columns={1} />
      </ThemeProvider>,
    )
    expect(container.querySelectorAll('rect')).toHaveLength(4)
    expect(screen.getAllByText('0 – 5 – 9')).toHaveLength(2)
    reword(screen.getByLabelText('Name of peat_ha'), 'Peat')
    expect(key()?.entries).toEqual({ up: 'Peat' })
    reword(screen.getByLabelText('Name of peat_ha'), '')
    expect(key()?.entries).toEqual({})
  })
})
