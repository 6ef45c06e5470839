import { useEffect, useRef, useState } from 'react'
import { autocompletion, closeBrackets } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { bracketMatching, syntaxHighlighting } from '@codemirror/language'
import { linter } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder } from '@codemirror/view'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import Typography from '@mui/material/Typography'
import type { ConditionAnswer } from '../api/types'
import type { RowsOf } from '../sheet/read'
import { type Asking, askingRows, type Gives } from './asking'
import { CompareWith } from './CompareWith'
import { editorInk, editorLook } from './editorLook'
import { colours, completions, cql2, underlined, wordsOf } from './cql2'

const WAIT = 250

type Props = Written & ({ rows: RowsOf; asking?: never } | { asking: Asking; rows?: never })

interface Written {
  value: string
  label: string
  gives?: Gives
  /** One line high, where there is little room. */
  low?: boolean
  /** What stands there is to be written over: it begins selected. */
  replaced?: boolean
  onChange: (text: string) => void
  /** Let it name the shapes of another dataset; without, it can't. */
  onCompare?: (name: string, dataset: string) => void
}

/** A condition or an expression being written: checked while it is typed, its mistakes under their very place, and how many rows it takes. What has a
 * mistake is not taken over. */
export default function ConditionEditor({
  rows,
  asking,
  value,
  label,
  gives = 'rows',
  low = false,
  replaced = false,
  onChange,
  onCompare,
}: Props) {
  const theme = useTheme()
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const queries = useQueryClient()
  const [answer, setAnswer] = useState<ConditionAnswer | null>(null)
  const asked = asking ?? askingRows(rows, gives)
  const language = useQuery({
    queryKey: ['language', asked.key],
    queryFn: asked.language,
    staleTime: 10_000,
  })
  const latest = useRef({ value, onChange, asked, language: language.data, replaced })
  useEffect(() => {
    latest.current = { value, onChange, asked, language: language.data, replaced }
  })

  // By what it says, so that the editor stays where rows are described anew alike.
  const about = asked.key
  useEffect(() => {
    if (!host.current) return
    const valuesOf = (field: string) =>
      queries.fetchQuery({
        queryKey: ['values', about, field],
        queryFn: () => latest.current.asked.values(field),
        staleTime: 10_000,
      })
    const check = linter(
      async (editor) => {
        const text = editor.state.doc.toString()
        if (gives !== 'rows' && !text.trim()) return []
        const verdict = await latest.current.asked.check(text).catch(() => null)
        if (!verdict || editor.state.doc.toString() !== text) return []
        setAnswer(verdict)
        if (verdict.mistake) return [underlined(editor.state.doc, verdict.mistake)]
        if (text.trim() !== latest.current.value) latest.current.onChange(text.trim())
        return []
      },
      { delay: WAIT },
    )
    // Who presses into what is to be written over means to write, not to add to it.
    const selectReplaced = (editor: EditorView) => {
      const { replaced, value } = latest.current
      const over = replaced && editor.state.doc.toString() === value
      if (over) editor.dispatch({ selection: { anchor: 0, head: editor.state.doc.length } })
      return over
    }
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        // What is being written stays where the rows are described anew.
        doc: view.current?.state.doc.toString() ?? latest.current.value,
        extensions: [
          history(),
          cql2,
          syntaxHighlighting(colours(editorInk(theme))),
          bracketMatching(),
          closeBrackets(),
          autocompletion({
            override: [(context) => completions(latest.current.language, valuesOf)(context)],
            icons: false,
            activateOnTypingDelay: 60,
          }),
          check,
          keymap.of([...defaultKeymap, ...historyKeymap]),
          placeholder(gives === 'rows' ? "peat_m > 2 AND isle = 'Ard'" : 'carbon_t / peat_ha'),
          EditorView.lineWrapping,
          EditorView.domEventHandlers({ mouseup: (_, editor) => void selectReplaced(editor) }),
          EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
          editorLook(theme, low ? { least: '26px', most: '80px' } : { least: '64px', most: '180px' }),
        ],
      }),
    })
    view.current = editor
    if (selectReplaced(editor)) editor.focus()
    return () => editor.destroy()
  }, [about, gives, label, low, queries, theme])

  useEffect(() => {
    // What was changed elsewhere, by an undo say, is shown here too.
    const editor = view.current
    if (editor && editor.state.doc.toString().trim() !== value && !answer?.mistake)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } })
    // eslint-disable-next-line react-hooks/exhaustive-deps -- only when the value changes
  }, [value])

  return (
    <Box>
      <Box ref={host} sx={{ border: 1, borderColor: answer?.mistake ? 'error.main' : 'line', bgcolor: 'raised' }} />
      <Typography
        variant="caption"
        component="p"
        role="status"
        data-testid="condition-answer"
        sx={{ mt: 0.5, mb: 0, color: answer?.mistake ? 'error.main' : 'text.secondary', minHeight: low ? 18 : 34 }}
      >
        {answer && (gives === 'rows' || answer.mistake ? said(answer) : `A ${gives} for ${said(answer).toLowerCase()}`)}
      </Typography>
      {onCompare && rows && (
        <CompareWith
          taken={rows.others}
          own={rows.dataset}
          onCompare={(name, dataset) => {
            onCompare(name, dataset)
            const editor = view.current
            if (editor) writeAtEnd(editor, `S_INTERSECTS(geometry, ${name})`)
          }}
        />
      )}
    </Box>
  )
}

/** One more part of a condition, for which all that was there still has to hold. */
function writeAtEnd(editor: EditorView, part: string): void {
  const text = editor.state.doc.toString().trim()
  editor.dispatch({
    changes: { from: 0, to: editor.state.doc.length, insert: text ? `(${text}) AND ${part}` : part },
  })
  editor.focus()
}

function said({ taken, of, mistake, whole }: ConditionAnswer): string {
  if (mistake) return `Line ${mistake.line}, column ${mistake.column}: ${wordsOf(mistake)}`
  if (taken === null) return ''
  const rows = `${of.toLocaleString('en')} rows`
  if (!whole) return `${taken === of ? 'All' : taken.toLocaleString('en')} of the first ${rows}`
  return taken === of ? `All ${rows}` : `${taken.toLocaleString('en')} of ${rows}`
}
