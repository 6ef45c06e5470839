import type { Asking } from './asking'

/** What a page that shows the map in a frame may hear. Every message is an object with `source: 'map'` and one of these kinds. */
export type MapEvent =
  | { kind: 'ready'; title: string; edition: string }
  | { kind: 'chosen'; features: { layer: string; fid: number }[] }
  | { kind: 'filtered'; shown: number; of: number; address: string }

/** Tell the page around the frame; the map alone in its window tells nobody. */
export function tellHost(event: MapEvent): void {
  // What a published map shows is public: any page that may show the map may hear of it.
  if (window.parent !== window) window.parent.postMessage({ source: 'map', ...event }, '*')
}

/** Tell it whenever something else is chosen; `address` is what stands behind the # for it. */
export function tellOfFilters(asking: Asking, address: () => string): void {
  const state = () => {
    const { shown = 0, of = 0 } = asking.counted() ?? {}
    return { shown, of, now: JSON.stringify([shown, of, asking.said]) }
  }
  let before = state().now
  asking.hear(() => {
    const { shown, of, now } = state()
    if (now === before) return
    before = now
    tellHost({ kind: 'filtered', shown, of, address: address() })
  })
}
