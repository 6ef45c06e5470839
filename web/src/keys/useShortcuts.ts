import { useEffect } from 'react'
import { benchState } from '../bench/benchState'
import { stepClasses } from '../classify/classing'
import { groupWithBelow, leaveGroup } from '../sheet/groups'
import { duplicateLayer, moveLayer } from '../sheet/layerActions'
import { STAGES, useSheet } from '../sheet/store'

interface Actions {
  setBare: (bare: boolean) => void
  setCompared: (compared: boolean) => void
  showKeys: () => void
  showFinder: () => void
}

export const KEYS: [string, string][] = [
  ['1 – 7', 'stage'],
  ['[ and ]', 'fewer, more classes'],
  ['K', 'bench up or down'],
  ['Space', 'hold for the bare map'],
  ['Alt+↑, Alt+↓', 'move the layer up or down'],
  ['D', 'duplicate the layer'],
  ['G', 'group it with the layer below, or take it out'],
  ['C', 'hold for the edition that readers have'],
  ['/', 'find a field, a layer or an action'],
  ['Ctrl+Z, Ctrl+Shift+Z', 'undo, redo'],
  ['?', 'this list'],
]

function isTyping(target: EventTarget | null): boolean {
  const element = target as HTMLElement | null
  return (
    element?.closest(
      'input:not([type=checkbox]):not([type=color]):not([type=range]), textarea, select, [contenteditable], [role=menu], [role=listbox], [role=dialog]',
    ) != null
  )
}

/** The application's own keys. While something is typed only undo of the text itself works. */
export function useShortcuts({ setBare, setCompared, showKeys, showFinder }: Actions): void {
  useEffect(() => {
    const down = (event: KeyboardEvent) => {
      if (isTyping(event.target)) return
      const { undo, redo, show, layerId, document } = useSheet.getState()
      const layer = document?.layers.find((candidate) => candidate.id === layerId) ?? null
      const held = event.ctrlKey || event.metaKey
      const act = (action: () => void) => {
        event.preventDefault()
        action()
      }
      if (held && event.key.toLowerCase() === 'z') return act(event.shiftKey ? redo : undo)
      if (event.altKey && event.key === 'ArrowUp') return act(() => moveLayer(layerId, -1))
      if (event.altKey && event.key === 'ArrowDown') return act(() => moveLayer(layerId, 1))
      if (held || event.altKey) return
      const stage = STAGES[Number(event.key) - 1]
      if (stage) return act(() => show(stage))
      if (event.key === '[') return act(() => stepClasses(layer, -1))
      if (event.key === ']') return act(() => stepClasses(layer, 1))
      if (event.key === 'k' || event.key === 'K') return act(() => benchState.getState().fold())
      if (event.key === 'd' || event.key === 'D') return act(() => duplicateLayer(layerId))
      if (event.key === 'g' || event.key === 'G')
        return act(() => layerId && (layer?.group ? leaveGroup(layerId) : groupWithBelow(layerId)))
      if (event.key === 'c' || event.key === 'C') return act(() => setCompared(true))
      if (event.key === '/') return act(showFinder)
      if (event.key === '?') return act(showKeys)
      // A focused button keeps its space bar.
      if (
        event.key === ' ' &&
        !(event.target as HTMLElement).closest('button, a, [role=button], [role=tab], [role=slider]')
      )
        act(() => setBare(true))
    }
    const up = (event: KeyboardEvent) => {
      if (event.key === ' ') setBare(false)
      if (event.key === 'c' || event.key === 'C') setCompared(false)
    }
    const leave = () => {
      setBare(false)
      setCompared(false)
    }
    window.addEventListener('keydown', down)
    window.addEventListener('keyup', up)
    window.addEventListener('blur', leave)
    return () => {
      window.removeEventListener('keydown', down)
      window.removeEventListener('keyup', up)
      window.removeEventListener('blur', leave)
    }
  }, [setBare, setCompared, showKeys, showFinder])
}
