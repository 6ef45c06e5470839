// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import type { Dataset } from '../api/types'
import { classedLayer } from '../api/forTests'
import type { Ink } from '../painter/ink'
import { inkQuery } from '../sheet/queries'
import { layerOf, useSheet } from '../sheet/store'
import { classingOf } from './classing'
import { FieldChoice, MethodControls } from './ClassingControls'
import { whole } from '../api/whole'

vi.mock('./SmallDenominators', () => ({ SmallDenominators: () => null }))

const layer = classedLayer('a', { method: 'quantile', classes: 2 })
const dataset = {
  kind: 'areas',
  fields: [
    { name: 'v', type: 'number' },
    { name: 'w', type: 'integer' },
    { name: 'name', type: 'text' },
  ],
} as unknown as Dataset
const open = (label: string) => fireEvent.mouseDown(screen.getByRole('combobox', { name: label }))
const options = () => screen.getAllByRole('option').map((element) => element.textContent)
const classing = () => classingOf(layerOf('a'))
beforeEach(() => {
  // What is asked of expressions is answered as well: a machine that is slow enough gets so far.
  const data = { classes: 4, because: '4 are the fewest whose best limits fit well.', taken: 3, of: 3, mistake: null }
  vi.spyOn(client, 'POST').mockResolvedValue({ data, response: new Response() } as never)
})
afterEach(cleanup)

describe('the method', () => {
  it('by hand begins with the breaks as they are', async () => {
    useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
    const queries = new QueryClient()
    const header = { classes: [{ upper: 4 }, { upper: 9 }] }
    queries.setQueryData(inkQuery(layer).queryKey, { header } as unknown as Ink)
    render(
      <QueryClientProvider client={queries}>
        <MethodControls layerId="a" nice={false} method="quantile" classes={2} />
      </QueryClientProvider>,
    )
    const suggested = await screen.findByRole('button', { name: '4 suggested' })
    expect(suggested.getAttribute('title')).toContain('the fewest')
    open('Method')
    await act(() => Promise.resolve(fireEvent.click(screen.getByRole('option', { name: 'By hand' }))))
    expect(classing()).toMatchObject({ method: 'manual', breaks: [4, 9] })
  })
})

describe('the field', () => {
  it('is one that holds numbers', () => {
    useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
    render(<FieldChoice layerId="a" dataset={dataset} field="v" normalise={null} weight={null} />)
    open('Field')
    expect(options()).toEqual(['v', 'w', 'calculated …'])
    fireEvent.click(screen.getByRole('option', { name: 'w' }))
    expect(classing()?.field).toBe('w')
  })

  it('is divided by another field or by the area', () => {
    useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
    render(<FieldChoice layerId="a" dataset={dataset} field="v" normalise={null} weight={null} />)
    open('Divide by')
    expect(options()).toEqual(['nothing', 'their total (share in %)', 'area in km² (geodesic)', 'w', 'calculated …'])
    fireEvent.click(screen.getByRole('option', { name: 'w' }))
    expect(classing()?.normalise).toEqual({ by: 'field', field: 'w', per: 1 })
  })

  it('is divided and weighed by what is calculated too, once that is written', async () => {
    useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer] }))
    const per = { by: 'field', field: 'v + w', per: 1000, least: null } as const
    render(
      <QueryClientProvider client={new QueryClient()}>
        <FieldChoice layerId="a" dataset={dataset} field="v" normalise={per} weight={null} />
      </QueryClientProvider>,
    )
    expect((await screen.findByLabelText('Divide by, calculated')).textContent).toBe('v + w')
    open('Weigh by')
    fireEvent.click(screen.getByRole('option', { name: 'calculated …' }))
    expect(await screen.findByLabelText('Weigh by, calculated')).toBeTruthy()
    expect(classing()?.weight ?? null).toBeNull()
    // For so many stays as it is with another divisor.
    open('Divide by')
    fireEvent.click(screen.getByRole('option', { name: 'w' }))
    expect(classing()?.normalise).toMatchObject({ field: 'w', per: 1000 })
  })
})
