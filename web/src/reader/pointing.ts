import type OlMap from 'ol/Map'
import DoubleClickZoom from 'ol/interaction/DoubleClickZoom'

const ASKED = 'pointing'
/** Px and milliseconds within which a second press is that of a double one. */
const SAME = 4
const SOON = 500

/** Whether a tool asks for places: a press is an answer then, and means nothing else. */
export const isPointing = (map: OlMap) => map.getTargetElement()?.classList.contains(ASKED) ?? false

/** Ask for places: each is given as soon as it is pressed, twice is once, and the map stays where it is. Returns what ends it. */
export function askPlaces(map: OlMap, onPlace: (at: number[]) => void): () => void {
  let before = { x: 0, y: 0, at: -Infinity }
  const press = ({ pixel, coordinate }: { pixel: number[]; coordinate: number[] }) => {
    const [x = 0, y = 0] = pixel
    const at = performance.now()
    const twice = Math.hypot(x - before.x, y - before.y) < SAME && at - before.at < SOON
    before = { x, y, at }
    if (!twice) onPlace(coordinate)
  }
  const zooms = (active: boolean) =>
    map.getInteractions().forEach((each) => each instanceof DoubleClickZoom && each.setActive(active))
  map.on('click', press)
  map.getTargetElement()?.classList.add(ASKED)
  zooms(false)
  return () => {
    map.un('click', press)
    map.getTargetElement()?.classList.remove(ASKED)
    zooms(true)
  }
}
