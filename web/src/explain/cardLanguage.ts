import { type CompletionContext, type CompletionResult } from '@codemirror/autocomplete'
import { StreamLanguage } from '@codemirror/language'

const TAGS = ['if', 'elsif', 'else', 'endif', 'unless', 'endunless', 'case', 'when', 'endcase', 'for', 'endfor']
const FILTERS = {
  number: 'number: 1 — so many decimals',
  date: "date: '%d %B %Y' — as a date",
  bar: 'bar: 100 — a bar, whole at so much',
  round: 'round: 0',
  times: 'times: 100',
  divided_by: 'divided_by: 2',
  plus: 'plus: 1',
  minus: 'minus: 1',
  upcase: 'capitals',
  downcase: 'lower case',
  capitalize: 'its first letter a capital',
  default: "default: 'not known' — in place of nothing",
  join: "join: ', ' — of a list",
  truncate: 'truncate: 80',
  first: 'of a list',
  last: 'of a list',
  size: 'how many',
} as const

/** Placeholders, conditions and the marks of Markdown, told apart for the eye. */
export const cardLanguage = StreamLanguage.define<{ within: string }>({
  name: 'card',
  startState: () => ({ within: '' }),
  token(stream, state) {
    if (state.within) {
      if (stream.match(state.within)) {
        state.within = ''
        return 'keyword'
      }
      if (stream.eatSpace()) return null
      if (stream.match(/^(?:'[^']*'?|"[^"]*"?)/)) return 'string'
      if (stream.match(/^\d[\d.]*/)) return 'number'
      if (stream.match(/^[\p{L}_][\p{L}\p{N}_-]*/u)) return 'variableName'
      stream.next()
      return 'operator'
    }
    if (stream.match('{{')) {
      state.within = '}}'
      return 'keyword'
    }
    if (stream.match('{%')) {
      state.within = '%}'
      return 'keyword'
    }
    if (stream.sol() && stream.match(/^#{1,6}\s.*?(?=\{[{%]|$)/)) return 'keyword'
    if (stream.match(/^(?:\*{1,2}|_{1,2}|\||^[-*]\s|^\d+\.\s|!?\[|\]\()/)) return 'operator'
    if (!stream.match(/^[^{*_|![\]]+/)) stream.next()
    return null
  },
})

/** How a field is named in a template; odd names stand in quotes and brackets. */
export function named(field: string): string {
  if (/^[^\W\d][\w-]*$/u.test(field)) return field
  return field.includes('"') ? `['${field}']` : `["${field}"]`
}

/** Within braces: fields, and after a bar what is done to them; after {% what a condition begins with. */
export function cardCompletions(fields: readonly string[]) {
  return (context: CompletionContext): CompletionResult | null => {
    const before = context.state.doc.sliceString(Math.max(0, context.pos - 500), context.pos)
    const open = Math.max(before.lastIndexOf('{{'), before.lastIndexOf('{%'))
    if (open < 0 || /[}%]\}/.test(before.slice(open))) return null
    const inside = before.slice(open)
    const word = /[\p{L}\p{N}_-]*$/u.exec(inside)?.[0] ?? ''
    const from = context.pos - word.length
    const validFor = /^[\p{L}\p{N}_-]*$/u
    if (/\|\s*[\w]*$/.test(inside))
      return {
        from,
        options: Object.entries(FILTERS).map(([label, detail]) => ({ label, detail, type: 'function' })),
        validFor,
      }
    const names = fields.map((field) => ({ label: field, apply: named(field), type: 'variable' }))
    if (/^\{%-?\s*[\w]*$/.test(inside))
      return { from, options: TAGS.map((label) => ({ label, type: 'keyword' })), validFor }
    return { from, options: names, validFor }
  }
}
