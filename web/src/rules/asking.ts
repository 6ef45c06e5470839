import { answered, client } from '../api/client'
import type { ConditionAnswer, Language } from '../api/types'
import type { RowsOf } from '../sheet/read'

/** Who answers while a condition or an expression is being written. `key` says of what it is: the same key, the same answers. */
export interface Asking {
  key: string
  language: () => Promise<Language>
  check: (text: string) => Promise<ConditionAnswer>
  values: (field: string) => Promise<string[]>
}

/** About the rows of a dataset, or those that a reading makes of it. */
export function askingRows(rows: RowsOf, gives: 'rows' | 'number'): Asking {
  return {
    key: JSON.stringify([rows, gives]),
    language: () => answered(client.POST('/api/draw/condition/language', { body: rows })),
    check: (text) => {
      const address = gives === 'rows' ? '/api/draw/condition' : '/api/draw/expression'
      return answered(client.POST(address, { body: { ...rows, text } }))
    },
    values: async (field) =>
      (await answered(client.POST('/api/draw/condition/values', { body: { ...rows, field } }))).values,
  }
}
