// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react'
import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { whole } from '../api/whole'
import { useSheet } from '../sheet/store'
import { Credits } from './Credits'

const furniture = () => useSheet.getState().document?.furniture

beforeEach(() => {
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [] }))
  render(
    <QueryClientProvider client={new QueryClient()}>
      <Credits />
    </QueryClientProvider>,
  )
})
afterEach(() => {
  cleanup()
  vi.restoreAllMocks()
})

it('keeps the terms of use with the sheet', () => {
  fireEvent.change(screen.getByLabelText('Terms'), { target: { value: 'CC BY 4.0' } })
  expect(furniture()?.terms).toBe('CC BY 4.0')
})

it('takes what the data state with one press, which is one step', async () => {
  const stated = { ...furniture(), credits: 'Data: Survey', source_date: '2026', terms: 'CC BY 4.0' }
  const post = vi.spyOn(client, 'POST').mockResolvedValue({ data: stated, response: new Response() } as never)
  fireEvent.click(screen.getByRole('button', { name: 'Take what the data state' }))
  await waitFor(() => expect(furniture()).toMatchObject({ credits: 'Data: Survey', terms: 'CC BY 4.0' }))
  expect(post.mock.calls[0]?.[0]).toBe('/api/draw/credits')
  expect(screen.queryByRole('button', { name: 'Take what the data state' })).toBeNull()
  useSheet.getState().undo()
  expect(furniture()).toMatchObject({ credits: '', terms: '' })
})
