// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, expect, it, vi } from 'vitest'
import type { Dataset, Layer } from '../api/types'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { SharesPanel } from './ComponentPanels'

vi.mock('../rules/ConditionEditor', () => ({
  default: ({ label, onChange }: { label: string; onChange: (text: string) => void }) => (
    <input aria-label={label} onChange={(e) => onChange(e.target.value)} />
  ),
}))
afterEach(cleanup)

const fields = ['moss', 'heath', 'bare'].map((name) => ({ name, type: 'number' }))
const dataset = { id: 'd', kind: 'points', fields } as unknown as Dataset
const encoding = whole('Shares', { by: 'shares', fields: [{ field: 'moss' }, { field: 'heath' }] } as never)

it('is made of fields, and of what is calculated from some, which is added once it is written', async () => {
  const layer = whole('Layer', { id: 'l', name: 'l', dataset: 'd', symbology: { kind: 'symbols' } } as never) as Layer
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
  const onChange = vi.fn()
  render(
    <QueryClientProvider client={new QueryClient()}>
      <SharesPanel encoding={encoding} dataset={dataset} layer={layer} onChange={onChange} />
    </QueryClientProvider>,
  )
  const choose = (name: string) => {
    fireEvent.mouseDown(screen.getByRole('combobox', { name: 'Add' }))
    fireEvent.click(screen.getByRole('option', { name }))
  }
  choose('calculated …')
  const add = screen.getByRole<HTMLButtonElement>('button', { name: 'Add it' })
  expect(add.disabled).toBe(true)
  fireEvent.change(await screen.findByLabelText('Part, calculated'), { target: { value: 'bare / 2' } })
  expect(onChange).not.toHaveBeenCalled()
  fireEvent.click(add)
  const last = onChange.mock.calls.at(-1)?.[1] as { fields: { field: string }[] }
  expect(last.fields.map(({ field }) => field)).toEqual(['moss', 'heath', 'bare / 2'])
})
