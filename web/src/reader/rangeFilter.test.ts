// @vitest-environment happy-dom
import { describe, expect, it, vi } from 'vitest'
import type { ReaderFilter } from '../api/types'
import type { Asking, ChosenLayer } from './asking'
import { rangeFilter, trueEnds } from './rangeFilter'

const numbers = (...values: number[]) => ({ kind: 'number' as const, data: Float64Array.from(values) })

describe('the ends of a range', () => {
  it('are those of what there is, and no longer than that takes', () => {
    expect(trueEnds(numbers(10, 165), [10, 165])).toEqual([10, 165])
    expect(trueEnds(numbers(1 / 3, 2 / 3), [1 / 3, 2 / 3])).toEqual([0.33333, 0.66667])
    expect(trueEnds(numbers(140, 3.5, 1_397_715_000), [3.5, 1_397_715_000])).toEqual([3, 1_397_715_000])
    expect(trueEnds(numbers(-1.5, 98_000.123456), [-1.5, 98_000.123456])).toEqual([-2, 98_001])
  })

  it('are reached whatever the step, and are all there is', () => {
    const field = { ...numbers(12, 40, 165), unit: '', title: 'wind', name: 'wind' }
    const layer = { id: 'a', columns: { n: 3, fields: [field] }, without: () => null } as unknown as ChosenLayer
    const choose = vi.fn()
    const asking = { said: { ranges: {} }, choose } as unknown as Asking
    const filter = { kind: 'range', layer: 'a', field: 'wind', title: '', step: 10 } as ReaderFilter & { kind: 'range' }
    const part = rangeFilter(asking, layer, filter)
    const [lower, upper] = [...(part?.element.querySelectorAll<HTMLInputElement>('input[type=range]') ?? [])]
    const [first, last] = [...(part?.element.querySelectorAll<HTMLInputElement>('input[type=number]') ?? [])]
    if (!lower || !upper || !first || !last) throw new Error('no sliders')
    expect([lower.min, upper.max, first.value, last.value]).toEqual(['10', '170', '12', '165'])
    const slide = (slider: HTMLInputElement, value: number) => {
      slider.value = String(value)
      slider.dispatchEvent(new Event('input'))
    }
    slide(upper, 150)
    expect(asking.said.ranges).toEqual({ 'a.wind': [12, 150] })
    slide(upper, 170)
    expect([asking.said.ranges, last.value, choose.mock.lastCall?.[2]]).toEqual([{}, '165', null])
  })
})
