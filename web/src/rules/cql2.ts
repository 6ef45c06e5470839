import { type CompletionContext, type CompletionResult } from '@codemirror/autocomplete'
import { HighlightStyle, StreamLanguage } from '@codemirror/language'
import type { Diagnostic } from '@codemirror/lint'
import type { Text } from '@codemirror/state'
import { tags } from '@lezer/highlight'
import type { Language, Mistake } from '../api/types'
import { WORD, written } from './names'

const KEYWORDS = ['AND', 'OR', 'NOT', 'IN', 'LIKE', 'BETWEEN', 'IS NULL', 'IS NOT NULL', 'TRUE', 'FALSE', 'NULL']
const LITERALS = ['DATE(', 'TIMESTAMP(', 'INTERVAL(', 'BBOX(', 'POINT(', 'POLYGON((']

/** The words, texts and numbers of a condition, told apart for the eye. */
export const cql2 = StreamLanguage.define<null>({
  name: 'cql2',
  startState: () => null,
  token(stream) {
    if (stream.eatSpace()) return null
    if (stream.match(/^'(?:[^']|'')*'?/)) return 'string'
    if (stream.match(/^"[^"]*"?/)) return 'variableName'
    if (stream.match(/^\d[\d.]*(?:e[+-]?\d+)?/i)) return 'number'
    const word = stream.match(/^[\p{L}_][\p{L}\p{N}_.:]*/u)
    if (word) return Array.isArray(word) && WORD.test(word[0]) ? 'keyword' : 'variableName'
    stream.next()
    return 'operator'
  },
})

export const colours = (ink: { keyword: string; string: string; number: string }) =>
  HighlightStyle.define([
    { tag: tags.keyword, color: ink.keyword, fontWeight: '600' },
    { tag: tags.string, color: ink.string },
    { tag: tags.number, color: ink.number },
  ])

/** Which field's values could stand at the end of this text, and how much of one is there already. */
export function fieldBefore(text: string): { field: string; begun: string } | null {
  const parts =
    /(?:"([^"]+)"|([\p{L}_][\p{L}\p{N}_.:]*))\s*(?:=|<>|(?:not\s+)?in\s*\([^)]*?|(?:not\s+)?like)\s*('[^']*)?$/iu.exec(
      text,
    )
  if (!parts) return null
  return { field: parts[1] ?? parts[2] ?? '', begun: parts[3] ?? '' }
}

/** Fields, functions, keywords and, after a sign, the values of the field before it. */
export function completions(language: Language | undefined, valuesOf: (field: string) => Promise<string[]>) {
  return async (context: CompletionContext): Promise<CompletionResult | null> => {
    const before = context.state.doc.sliceString(0, context.pos)
    const asked = fieldBefore(before)
    if (asked && language?.names.includes(asked.field) && asked.field !== 'geometry') {
      const values = await valuesOf(asked.field)
      // The quote that closes what was begun is there already.
      const closed = asked.begun && context.state.doc.sliceString(context.pos, context.pos + 1) === "'"
      return {
        from: context.pos - asked.begun.length,
        to: context.pos + (closed ? 1 : 0),
        options: values.map((value) => ({ label: value, type: 'constant' })),
        validFor: /^'?[^']*$/,
      }
    }
    const word = context.matchBefore(/"?[\p{L}_][\p{L}\p{N}_ ]*$/u)
    if (!language || (!word && !context.explicit)) return null
    const from = word ? word.from + (/^(.*\s)?/.exec(word.text)?.[0].length ?? 0) : context.pos
    return {
      from,
      options: [
        ...language.names.map((name) => ({ label: written(name), type: 'variable', boost: 2 })),
        ...language.functions.map(({ name, text }) => ({ label: `${name}(`, detail: text, type: 'function' })),
        ...KEYWORDS.map((label) => ({ label, type: 'keyword', boost: 1 })),
        ...LITERALS.map((label) => ({ label, type: 'constant' })),
      ],
      validFor: /^[\p{L}_"][\p{L}\p{N}_]*$/u,
    }
  }
}

/** A mistake under the word at which it was found. */
export function underlined(doc: Text, mistake: Mistake): Diagnostic {
  const line = doc.line(Math.min(mistake.line, doc.lines))
  const from = Math.min(line.from + mistake.column - 1, line.to)
  const word = /^(?:'[^']*'?|"[^"]*"?|[\p{L}\p{N}_.:]+|.)/u.exec(doc.sliceString(from, line.to))?.[0] ?? ''
  const to = Math.min(from + Math.max(word.length, 1), doc.length)
  return { from: Math.min(from, Math.max(0, to - 1)), to, severity: 'error', message: wordsOf(mistake) }
}

export function wordsOf({ problem, expected }: Mistake): string {
  return expected ? `${problem} Expected ${expected}.` : problem
}
