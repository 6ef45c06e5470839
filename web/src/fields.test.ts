import { describe, expect, it } from 'vitest'
import { numericNames } from './fields'

describe('fields of numbers', () => {
  it('come in their order, codes last', () => {
    const field = (name: string, type: string, kind: string) => ({ name, type, meaning: { kind } })
    const fields = [
      field('fips', 'integer', 'identifier'),
      field('name', 'text', 'name'),
      field('people', 'integer', 'count'),
      field('rate', 'number', 'rate'),
    ]
    expect(numericNames(fields)).toEqual(['people', 'rate', 'fips'])
    expect(numericNames([{ name: 'a', type: 'number' }])).toEqual(['a'])
    expect(numericNames(undefined)).toEqual([])
  })
})
