import { EditorView } from '@codemirror/view'
import type { Theme } from '@mui/material/styles'

/** The colours of what is written. */
export function editorInk(theme: Theme) {
  const dark = theme.palette.mode === 'dark'
  return {
    keyword: theme.palette.text.primary,
    string: dark ? '#9fc79a' : '#3f6b3a',
    number: dark ? '#9cc3d9' : '#2a5d79',
  }
}

/** How editors of text look, between the least and the most high. */
export function editorLook(theme: Theme, { least, most }: { least: string; most: string }) {
  const { text, line, raised, primary, tint } = theme.palette
  return EditorView.theme(
    {
      '&': {
        fontSize: '12.5px',
        color: text.primary,
        minHeight: least,
        maxHeight: most,
      },
      '&.cm-focused': { outline: `2px solid ${primary.main}`, outlineOffset: '1px' },
      '.cm-scroller': { fontFamily: '"Source Code Pro", monospace', overflow: 'auto' },
      '.cm-content': { caretColor: text.primary, minHeight: `calc(${least} - 5px)` },
      '.cm-placeholder': { color: text.secondary },
      '.cm-tooltip': { backgroundColor: raised, border: `1px solid ${line}`, color: text.primary, maxWidth: '420px' },
      '.cm-tooltip-autocomplete > ul': { fontFamily: '"Source Code Pro", monospace', fontSize: '12.5px' },
      '.cm-tooltip-autocomplete > ul > li[aria-selected]': { backgroundColor: tint, color: text.primary },
      '.cm-completionDetail': { fontFamily: '"Source Sans 3", sans-serif', fontStyle: 'normal', color: text.secondary },
      '.cm-diagnostic': { fontFamily: '"Source Sans 3", sans-serif', fontSize: '12.5px' },
    },
    { dark: theme.palette.mode === 'dark' },
  )
}
