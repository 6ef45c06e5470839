import { type Ref, useEffect, useImperativeHandle, useRef } from 'react'
import { autocompletion, closeBrackets } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { bracketMatching, syntaxHighlighting } from '@codemirror/language'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder } from '@codemirror/view'
import Box from '@mui/material/Box'
import { useTheme } from '@mui/material/styles'
import { colours } from '../rules/cql2'
import { editorInk, editorLook } from '../rules/editorLook'
import { cardCompletions, cardLanguage } from './cardLanguage'

const EXAMPLE =
  '### {{ name }}\n\nMarkdown, with fields in double braces. {% if field %}Shown only where it has a value: {{ field | number: 1 }}{% endif %}'

export interface TemplateHandle {
  /** Put a text where the cursor is. */
  insert: (text: string) => void
}

interface Props {
  value: string
  fields: readonly string[]
  onChange: (text: string) => void
  handle: Ref<TemplateHandle>
}

/** The template of a card being written; fields and what can be done to them are completed. */
export default function TemplateEditor({ value, fields, onChange, handle }: Props) {
  const theme = useTheme()
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const latest = useRef({ value, fields, onChange })
  useEffect(() => {
    latest.current = { value, fields, onChange }
  })
  useImperativeHandle(handle, () => ({
    insert: (text) => {
      const editor = view.current
      if (!editor) return
      editor.dispatch(editor.state.replaceSelection(text))
      editor.focus()
    },
  }))
  useEffect(() => {
    if (!host.current) return
    const editor = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: latest.current.value,
        extensions: [
          history(),
          cardLanguage,
          syntaxHighlighting(colours(editorInk(theme))),
          bracketMatching(),
          closeBrackets(),
          autocompletion({
            override: [(context) => cardCompletions(latest.current.fields)(context)],
            icons: false,
            activateOnTypingDelay: 60,
          }),
          keymap.of([...defaultKeymap, ...historyKeymap]),
          placeholder(EXAMPLE),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': 'Template of the card', spellcheck: 'false' }),
          EditorView.updateListener.of((update) => {
            const text = update.state.doc.toString()
            if (update.docChanged && text !== latest.current.value) latest.current.onChange(text)
          }),
          editorLook(theme, { least: '100%', most: '100%' }),
        ],
      }),
    })
    // What is longer than its box is scrolled by keys too.
    editor.scrollDOM.tabIndex = 0
    view.current = editor
    return () => editor.destroy()
  }, [theme])
  useEffect(() => {
    // What was changed elsewhere, by an undo say, is shown here too.
    const editor = view.current
    if (editor && editor.state.doc.toString() !== value)
      editor.dispatch({ changes: { from: 0, to: editor.state.doc.length, insert: value } })
  }, [value])
  return (
    <Box
      ref={host}
      sx={{
        flex: 1,
        minHeight: 0,
        border: 1,
        borderColor: 'line',
        bgcolor: 'raised',
        '& .cm-editor': { height: '100%' },
      }}
    />
  )
}
