import { act, renderHook } from '@testing-library/react'
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { useLeaps } from './useLeaps'

beforeEach(() => void vi.useFakeTimers())
afterEach(() => void vi.useRealTimers())

describe('rows that pass by', () => {
  const started = () => renderHook(({ first }) => useLeaps(first, 30), { initialProps: { first: 0 } })

  it('are fetched while they are scrolled through', () => {
    const hook = started()
    for (const first of [5, 30, 58]) hook.rerender({ first })
    expect(hook.result.current).toBe(false)
  })

  it('are not while they leap by, and are a moment after they have come to rest', () => {
    const hook = started()
    for (const first of [100, 200, 300]) {
      hook.rerender({ first })
      expect(hook.result.current).toBe(true)
      act(() => void vi.advanceTimersByTime(16))
      expect(hook.result.current).toBe(true)
    }
    act(() => void vi.advanceTimersByTime(100))
    expect(hook.result.current).toBe(false)
  })
})
