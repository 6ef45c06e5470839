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

/** What a text is to come to: a condition takes rows, an expression gives each a number, or any value that a field can hold. */
export type Gives = 'rows' | 'number' | 'value'

/** About the rows of a dataset, or those that a reading makes of it. */
export function askingRows(rows: RowsOf, gives: Gives): Asking {
  return {
    key: JSON.stringify([rows, gives]),
    language: () => answered(client.POST('/api/draw/condition/language', { body: rows })),
    check: (text) =>
      answered(
        gives === 'rows'
          ? client.POST('/api/draw/condition', { body: { ...rows, text } })
          : client.POST('/api/draw/expression', { body: { ...rows, text, gives } }),
      ),
    values: async (field) =>
      (await answered(client.POST('/api/draw/condition/values', { body: { ...rows, field } }))).values,
  }
}
