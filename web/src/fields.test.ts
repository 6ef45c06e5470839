import { describe, expect, it } from 'vitest'
import { numericNames } from './fields'

describe('fields of numbers', () => {
  it('come in their order, codes last', () => {
    const field = (name: string, type: string, tells_little = false) => ({ name, type, tells_little })
    const fields = [
      field('fips', 'integer', true),
      field('name', 'text'),
      field('people', 'integer'),
      field('rate', 'number'),
    ]
    expect(numericNames(fields)).toEqual(['people', 'rate', 'fips'])
    expect(numericNames(undefined)).toEqual([])
  })
})
