// @vitest-environment happy-dom
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, expect, it } from 'vitest'
import { classedLayer } from '../api/forTests'
import type { InkHeader, Sheet } from '../api/types'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { NumbersLine } from './NumbersLine'

const layer = classedLayer('l', {})
const header = (unit: string, numeric: boolean) =>
  ({ unit, divisor: '', numbers: 'carbon_t per ha', key: [{ numeric }] }) as unknown as InkHeader

beforeEach(() =>
  useSheet.setState({ document: whole('Sheet', { version: 4, title: 'A', layers: [layer] } as never) as Sheet }),
)
afterEach(cleanup)

const choice = () => screen.queryByLabelText<HTMLSelectElement>('Decimals in the key of l')
const kept = () => useSheet.getState().document?.layers[0]?.key.decimals

it('lets the maker say with how many decimals numbers are read', () => {
  render(<NumbersLine layer={layer} header={header('t', true)} chosen />)
  fireEvent.change(choice() as HTMLSelectElement, { target: { value: '2' } })
  expect(kept()).toBe(2)
  fireEvent.change(choice() as HTMLSelectElement, { target: { value: 'as-needed' } })
  expect(kept()).toBeNull()
})

it('is there for numbers only, and of the chosen layer', () => {
  render(<NumbersLine layer={layer} header={header('t', false)} chosen />)
  expect(choice()).toBeNull()
  cleanup()
  render(<NumbersLine layer={layer} header={header('t', true)} chosen={false} />)
  expect(choice()).toBeNull()
  expect(screen.getByLabelText<HTMLInputElement>('Unit of l').value).toBe('t')
  cleanup()
  expect(render(<NumbersLine layer={layer} header={header('', false)} chosen />).container.innerHTML).toBe('')
})

it('keeps a unit for the numbers that it is written for', () => {
  render(<NumbersLine layer={layer} header={header('', true)} chosen />)
  const field = screen.getByLabelText('Unit of l')
  fireEvent.focus(field)
  fireEvent.change(field, { target: { value: 't per ha ' } })
  fireEvent.blur(field)
  const key = useSheet.getState().document?.layers[0]?.key
  expect([key?.unit, key?.unit_of]).toEqual(['t per ha', 'carbon_t per ha'])
})
