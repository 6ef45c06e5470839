import { describe, expect, it } from 'vitest'
import { nameFor } from './nameFor'

describe('a name for a dataset in conditions', () => {
  it('is made of its title', () => {
    expect(nameFor('Returns per catchment', [])).toBe('returns_per_catchment')
    expect(nameFor('Mère d’Orrin (2026)', [])).toBe('mere_d_orrin_2026')
    expect(nameFor('2026', [])).toBe('data_2026')
    expect(nameFor('地図', [])).toBe('data_')
  })
  it('is one that no other has', () => {
    expect(nameFor('Wells', ['wells', 'wells_2'])).toBe('wells_3')
  })
})
