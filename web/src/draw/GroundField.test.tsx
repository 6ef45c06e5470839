// @vitest-environment happy-dom
import { QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import { begunQueries } from '../api/forTests'
import type { SymbolShape } from '../api/types'
import { MERCATOR } from '../painter/frame'
import { useSheet } from '../sheet/store'
import { GroundField } from './GroundField'

vi.mock('../sheet/useFrame', () => ({ useFrame: () => ({ frame: { ...MERCATOR, metres: 0.5 } }) }))
afterEach(cleanup)

it('begins with as many metres as are seen, takes typed ones, and goes back to px', () => {
  useSheet.setState({ level: 10 })
  const queries = begunQueries()
  const onChange = vi.fn()
  const shown = (ground: number | null) => (
    <QueryClientProvider client={queries}>
      <GroundField symbol={{ ground } as SymbolShape} size={8} sized={false} of="Radius" onChange={onChange} />
    </QueryClientProvider>
  )
  const { rerender } = render(shown(null))
  const choose = (name: string) => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Sizes in' }))
    fireEvent.click(screen.getByRole('option', { name }))
  }
  choose('metres on the ground')
  // 152.87 units to a px at level 10, half a metre each at 60° north.
  expect(onChange).toHaveBeenLastCalledWith('ground', { ground: 610 })
  rerender(shown(610))
  const metres = screen.getByRole('textbox', { name: 'Radius, metres' })
  const type = (value: string) => {
    fireEvent.focus(metres)
    fireEvent.change(metres, { target: { value } })
    fireEvent.blur(metres)
  }
  type('5000000')
  expect(onChange).toHaveBeenLastCalledWith('ground', { ground: 1_000_000 })
  onChange.mockClear()
  type('0')
  expect(onChange).not.toHaveBeenCalled()
  choose('px of the screen')
  expect(onChange).toHaveBeenLastCalledWith('ground', { ground: null })
})
