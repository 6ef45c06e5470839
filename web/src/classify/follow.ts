import type { QueryClient } from '@tanstack/react-query'

/** Follow a hand from where it pressed until it lets go. `send` keeps what it has come to: while it moves as often as the map can be drawn, and
 * once more at the end. */
export function follow(
  queries: QueryClient,
  moved: (e: PointerEvent) => void,
  send: () => void,
  done: () => void,
): void {
  let waiting = 0
  // A step more would take back the question about the last one: the map would stand still until the hand does.
  const sendWhenAnswered = () => {
    if (queries.isFetching({ queryKey: ['ink'] }) > 0) waiting = requestAnimationFrame(sendWhenAnswered)
    else {
      waiting = 0
      send()
    }
  }
  const move = (e: PointerEvent) => {
    moved(e)
    if (!waiting) waiting = requestAnimationFrame(sendWhenAnswered)
  }
  const end = () => {
    cancelAnimationFrame(waiting)
    send()
    done()
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', end)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', end)
}
