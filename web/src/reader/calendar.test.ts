import { describe, expect, it } from 'vitest'
import type { Time } from '../api/types'
import { whole } from '../api/whole'
import { called, MOST, stepsOf } from './calendar'

const time = (part: Partial<Time>) => whole('Time', { layer: 'a', field: 'd', ...part })
const at = (text: string) => Date.parse(`${text}Z`) / 1000
const days = (edges: number[]) => edges.map((edge) => new Date(edge * 1000).toISOString().slice(0, 10))

describe('steps of time', () => {
  it('are months, quarters and years of the calendar, also where years begin in April', () => {
    expect(days(stepsOf(time({ by: 'month' }), [at('2024-01-31'), at('2024-03-01')]))).toEqual([
      '2024-01-01', '2024-02-01', '2024-03-01', '2024-04-01',
    ]) // prettier-ignore
    expect(days(stepsOf(time({ by: 'quarter', year_from: 2 }), [at('2024-01-31'), at('2024-02-01')]))).toEqual([
      '2023-11-01', '2024-02-01', '2024-05-01',
    ]) // prettier-ignore
    expect(days(stepsOf(time({ by: 'year', year_from: 4 }), [at('2024-03-31'), at('2024-04-01')]))).toEqual([
      '2023-04-01', '2024-04-01', '2025-04-01',
    ]) // prettier-ignore
  })

  it('are weeks from Monday on (ISO 8601, 4.3.2), days and hours', () => {
    expect(days(stepsOf(time({ by: 'week' }), [at('2026-11-27'), at('2026-11-30')]))).toEqual([
      '2026-11-23', '2026-11-30', '2026-12-07',
    ]) // prettier-ignore
    expect(stepsOf(time({ by: 'day' }), [at('2024-02-28T12:00'), at('2024-03-01T00:00')])).toHaveLength(4)
    expect(stepsOf(time({ by: 'hour' }), [at('2024-02-28T12:10'), at('2024-02-28T14:00')])).toHaveLength(4)
  })

  it('are as many as are asked for, the last moment within the last', () => {
    for (const steps of [365, 256]) {
      const edges = stepsOf(time({ by: 'steps', steps }), [100, 900])
      expect(edges).toHaveLength(steps + 1)
      expect(edges.at(-1)).toBeGreaterThan(900)
    }
    expect(stepsOf(time({ by: 'hour' }), [0, 3600 * 100_000])).toHaveLength(MOST + 1)
  })

  it('are called as people call them', () => {
    expect(called(at('2024-08-01'), at('2024-09-01'), time({ by: 'month' }), 'en')).toBe('August 2024')
    expect(called(at('2024-08-01'), at('2024-11-01'), time({ by: 'month' }), 'en')).toBe('August 2024 – October 2024')
    expect(called(at('2024-01-01'), at('2025-01-01'), time({ by: 'year' }), 'en')).toBe('2024')
    expect(called(at('2024-04-01'), at('2025-04-01'), time({ by: 'year', year_from: 4 }), 'en')).toBe(
      'April 2024 – March 2025',
    )
    expect(called(at('2024-08-01'), at('2024-09-01'), time({ by: 'month' }), 'de')).toBe('August 2024')
    expect(called(at('2024-08-03'), at('2024-08-04'), time({ by: 'day' }), 'de')).toBe('3. August 2024')
  })
})
