// @vitest-environment happy-dom
import { QueryClient, QueryClientProvider } from '@tanstack/react-query'
import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { ThemeProvider } from '@mui/material/styles'
import { afterEach, describe, expect, it } from 'vitest'
import type { Scales } from '../api/types'
import { themeFor } from '../theme'
import { ScaleFields } from './ScaleFields'

let last: Scales | null | undefined
function show(scales: Scales | null) {
  last = undefined
  render(
    <QueryClientProvider client={new QueryClient()}>
      <ThemeProvider theme={themeFor('light')}>
        <ScaleFields of="Wells" scales={scales} onChange={(next) => (last = next)} />
      </ThemeProvider>
    </QueryClientProvider>,
  )
}
function type(label: string, text: string) {
  const field = screen.getByLabelText(label)
  fireEvent.focus(field)
  fireEvent.change(field, { target: { value: text } })
  fireEvent.keyDown(field, { key: 'Enter' })
}
afterEach(cleanup)

describe('scales', () => {
  it('have ends that are typed as denominators', () => {
    show(null)
    type('Wells: not farther than 1 to', '250,000')
    expect(last).toEqual({ closest: null, farthest: 250_000 })
  })

  it('keep the other end', () => {
    show({ closest: 1_000, farthest: null })
    type('Wells: not farther than 1 to', '50000')
    expect(last).toEqual({ closest: 1_000, farthest: 50_000 })
  })

  it('are none when both ends are taken away', () => {
    show({ closest: 1_000, farthest: null })
    type('Wells: not closer than 1 to', '0')
    expect(last).toBeNull()
  })
})
