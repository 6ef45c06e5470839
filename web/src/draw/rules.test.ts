import { beforeEach, describe, expect, it } from 'vitest'
import { classedLayer } from '../api/forTests'
import { whole } from '../api/whole'
import type { Rule } from '../api/types'
import { symbolsOf } from '../sheet/looks'
import { layerOf, useSheet } from '../sheet/store'
import { changeRules, copyRules, nameDataset, taking } from './rules'

const rule = (id: string, where: string) => whole('Rule', { id, name: id, where }) as Rule
const rulesOf = (layer: string) => symbolsOf(layerOf(layer))?.rules ?? []

beforeEach(() => {
  const layers = ['a', 'b'].map((id) => classedLayer(id, { method: 'quantile', classes: 3 }))
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers }))
  changeRules('a', 'add', () => [rule('r', 'v > 1'), rule('q', '')])
  changeRules('b', 'add', () => [rule('r', 'v > 9')])
})

describe('rules', () => {
  it('are copied before those of another layer, under ids of their own', () => {
    nameDataset('a', 'lakes', 'd2')
    const from = layerOf('a')
    if (from) copyRules(from, 'b')
    expect(layerOf('b')?.others).toEqual({ lakes: 'd2' })
    expect(rulesOf('b').map(({ id, where }) => [id, where])).toEqual([
      ['r-2', 'v > 1'],
      ['q', ''],
      ['r', 'v > 9'],
    ])
    expect(rulesOf('a').map(({ id }) => id)).toEqual(['r', 'q'])
  })

  it('take what no active rule before them does', () => {
    const [first, second] = [rule('r', 'v > 1'), rule('q', '')]
    expect(taking([first, second], first)).toBe('(v > 1)')
    expect(taking([first, second], second)).toBe('(1 = 1) AND (NOT (v > 1) OR (v > 1) IS NULL)')
    expect(taking([{ ...first, active: false }, second], second)).toBe('(1 = 1)')
  })
})
