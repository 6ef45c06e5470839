// @vitest-environment happy-dom
import { cleanup, fireEvent, render } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { benchState } from '../bench/benchState'
import { classedLayer } from '../api/forTests'
import { classingOf } from '../classify/classing'
import { whole } from '../api/whole'
import { STAGES, layerOf, useSheet } from '../sheet/store'
import { KEYS, useShortcuts } from './useShortcuts'

const actions = { setBare: vi.fn(), setCompared: vi.fn(), showKeys: vi.fn(), showFinder: vi.fn() }
const classed = (id: string) => classedLayer(id, { method: 'quantile' })

function Page() {
  useShortcuts(actions)
  return (
    <>
      <input aria-label="text" />
      <button>press</button>
      <div data-testid="map" tabIndex={0} />
    </>
  )
}

beforeEach(() => {
  vi.clearAllMocks()
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [classed('a'), classed('b')] }))
  useSheet.getState().choose('a')
})
afterEach(cleanup)

const layers = () => useSheet.getState().document?.layers.map((action) => action.id)
const classes = () => classingOf(layerOf('a'))?.classes ?? null

describe('keys', () => {
  it('reach every stage', () => {
    render(<Page />)
    STAGES.forEach((stage, i) => {
      fireEvent.keyDown(document.body, { key: String(i + 1) })
      expect(useSheet.getState().stage).toBe(stage)
    })
  })

  it('change the number of classes, order and copy layers, and undo it all', () => {
    render(<Page />)
    fireEvent.keyDown(document.body, { key: ']' })
    expect(classes()).toBe(6)
    fireEvent.keyDown(document.body, { key: '[' })
    fireEvent.keyDown(document.body, { key: '[' })
    expect(classes()).toBe(4)
    fireEvent.keyDown(document.body, { key: 'ArrowDown', altKey: true })
    expect(layers()).toEqual(['b', 'a'])
    fireEvent.keyDown(document.body, { key: 'd' })
    expect(layers()).toHaveLength(3)
    fireEvent.keyDown(document.body, { key: 'z', ctrlKey: true })
    fireEvent.keyDown(document.body, { key: 'z', metaKey: true })
    expect(layers()).toEqual(['a', 'b'])
    fireEvent.keyDown(document.body, { key: 'Z', ctrlKey: true, shiftKey: true })
    expect(layers()).toEqual(['b', 'a'])
  })

  it('belong to the text while something is typed', () => {
    const { getByLabelText } = render(<Page />)
    for (const key of ['d', '2', '/', 'c', ' ', '?']) fireEvent.keyDown(getByLabelText('text'), { key })
    fireEvent.keyDown(getByLabelText('text'), { key: 'z', ctrlKey: true })
    expect(layers()).toEqual(['a', 'b'])
    for (const action of Object.values(actions)) expect(action).not.toHaveBeenCalled()
  })

  it('bare the map and show the readers’ edition only while held', () => {
    const { getByTestId, getByText } = render(<Page />)
    const map = getByTestId('map')
    fireEvent.keyDown(map, { key: ' ' })
    expect(actions.setBare).toHaveBeenLastCalledWith(true)
    fireEvent.keyUp(map, { key: ' ' })
    expect(actions.setBare).toHaveBeenLastCalledWith(false)
    fireEvent.keyDown(map, { key: 'c' })
    expect(actions.setCompared).toHaveBeenLastCalledWith(true)
    fireEvent.blur(window)
    expect(actions.setCompared).toHaveBeenLastCalledWith(false)
    vi.clearAllMocks()
    fireEvent.keyDown(getByText('press'), { key: ' ' })
    expect(actions.setBare).not.toHaveBeenCalled()
  })

  it('leave the browser its own', () => {
    render(<Page />)
    fireEvent.keyDown(document.body, { key: 'd', ctrlKey: true })
    fireEvent.keyDown(document.body, { key: '1', altKey: true })
    expect(layers()).toEqual(['a', 'b'])
  })

  it('fold the bench, find, and list themselves', () => {
    render(<Page />)
    const before = benchState.getState().folded
    fireEvent.keyDown(document.body, { key: 'k' })
    expect(benchState.getState().folded).toBe(!before)
    fireEvent.keyDown(document.body, { key: '/' })
    fireEvent.keyDown(document.body, { key: '?' })
    expect([actions.showFinder, actions.showKeys].map((action) => action.mock.calls.length)).toEqual([1, 1])
    expect(new Set(KEYS.map(([key]) => key)).size).toBe(KEYS.length)
  })
})
