import { CompletionContext } from '@codemirror/autocomplete'
import { EditorState, Text } from '@codemirror/state'
import { describe, expect, it } from 'vitest'
import { completions, fieldBefore, underlined, wordsOf } from './cql2'
import { written } from './names'

const language = {
  names: ['peat_m', 'isle', 'odd name', 'geometry'],
  functions: [{ name: 'round', text: 'round(number, decimals)' }],
}

async function offered(text: string, after = '') {
  const state = EditorState.create({ doc: text + after })
  const valuesOf = () => Promise.resolve(["'Ard'", "'Orrin'"])
  const result = await completions(language, valuesOf)(new CompletionContext(state, text.length, false))
  return result && { from: result.from, to: result.to, labels: result.options.map((option) => option.label) }
}

describe('what could come next', () => {
  it('is a field, a function or a keyword where a word begins', async () => {
    const next = await offered('peat_m > 2 AND is')
    expect(next?.from).toBe(15)
    expect(next?.labels).toEqual(expect.arrayContaining(['isle', '"odd name"', 'round(', 'AND', 'IS NULL', 'DATE(']))
  })

  it('is a value of the field where a sign stands before', async () => {
    expect(await offered('isle = ')).toMatchObject({ from: 7, to: 7, labels: ["'Ard'", "'Orrin'"] })
    expect(await offered("isle IN ('Ard', 'O")).toMatchObject({ from: 16 })
  })

  it('takes in the quote that the editor has closed already', async () => {
    expect(await offered("isle = 'A", "'")).toMatchObject({ from: 7, to: 10 })
  })

  it('is nothing after a blank, unless it is asked for', async () => {
    expect(await offered('peat_m > 2 ')).toBeNull()
  })
})

describe('the field before the cursor', () => {
  it.each([
    ["isle = 'A", { field: 'isle', begun: "'A" }],
    ['"odd name" <> ', { field: 'odd name', begun: '' }],
    ["isle NOT LIKE '", { field: 'isle', begun: "'" }],
    ['peat_m > ', null],
    ["isle = 'Ard' AND ", null],
  ])('of %s', (text, expected) => {
    expect(fieldBefore(text)).toEqual(expected)
  })
})

describe('names', () => {
  it('stand in double quotes where they are no plain words', () => {
    expect([written('peat_m'), written('odd name'), written('Łąka'), written('in')]).toEqual([
      'peat_m',
      '"odd name"',
      'Łąka',
      '"in"',
    ])
  })
})

describe('a mistake', () => {
  const mistake = { problem: "There is no field 'nmae'.", line: 2, column: 3, expected: 'one of name' }

  it('is underlined at its word', () => {
    const doc = Text.of(['peat_m > 2 AND', "  nmae = 'x'"])
    expect(underlined(doc, mistake)).toMatchObject({ from: 17, to: 21, severity: 'error' })
  })

  it('at the end of the text is underlined at the last character', () => {
    const doc = Text.of(['peat_m >'])
    expect(underlined(doc, { ...mistake, line: 1, column: 9 })).toMatchObject({ from: 7, to: 8 })
  })

  it('says what was expected', () => {
    expect(wordsOf(mistake)).toBe("There is no field 'nmae'. Expected one of name.")
    expect(wordsOf({ ...mistake, expected: '' })).toBe("There is no field 'nmae'.")
  })
})
