import type OlMap from 'ol/Map'

let current: OlMap | null = null

/** The one map on screen, for actions outside of its component: fitting to a layer, taking the start view. */
export const mapBridge = {
  get: () => current,
  set: (map: OlMap | null) => {
    current = map
    // Tests and people at the console reach the map by this name.
    ;(window as unknown as { sheetMap: OlMap | null }).sheetMap = map
  },
}
