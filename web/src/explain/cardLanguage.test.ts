import { CompletionContext } from '@codemirror/autocomplete'
import { EditorState } from '@codemirror/state'
import { describe, expect, it } from 'vitest'
import { cardCompletions, named } from './cardLanguage'

const at = (text: string) =>
  cardCompletions(['name', 'name of the isle', 'qu"ote'])(
    new CompletionContext(EditorState.create({ doc: text }), text.length, false),
  )

describe('what completes a card', () => {
  it('is a field within braces, with quotes where its name wants them', () => {
    const found = at('### {{ na')
    expect(found?.from).toBe(7)
    expect(found?.options.map(({ label }) => label)).toEqual(['name', 'name of the isle', 'qu"ote'])
    expect(found?.options.map(({ apply }) => apply)).toEqual(['name', '["name of the isle"]', `['qu"ote']`])
    expect(named('ha_2')).toBe('ha_2')
  })

  it('is what is done to a value after a bar, and a condition at its beginning', () => {
    expect(at('{{ name | nu')?.options.map(({ label }) => label)).toContain('number')
    expect(at('{% i')?.options.map(({ label }) => label)).toContain('if')
    expect(at('{% if na')?.options.map(({ label }) => label)).toContain('name')
  })

  it('is nothing outside of braces', () => {
    expect(at('plain na')).toBeNull()
    expect(at('{{ name }} na')).toBeNull()
    expect(at('{% if a %} na')).toBeNull()
  })
})
