// @vitest-environment happy-dom
import OlMap from 'ol/Map'
import DoubleClickZoom from 'ol/interaction/DoubleClickZoom'
import { expect, it } from 'vitest'
import { askPlaces, isPointing } from './pointing'

it('gives each place at once and a double press once, and lets the map stay where it is', () => {
  const target = document.createElement('div')
  const zoom = new DoubleClickZoom()
  const map = new OlMap({ target, interactions: [zoom], controls: [] })
  const given: number[][] = []
  const end = askPlaces(map, (at) => given.push(at))
  const press = (x: number, y: number) =>
    map.dispatchEvent({ type: 'click', pixel: [x, y], coordinate: [x * 10, y * 10] } as never)
  press(20, 30)
  press(21, 30)
  press(60, 30)
  expect(given).toEqual([
    [200, 300],
    [600, 300],
  ])
  expect([isPointing(map), zoom.getActive()]).toEqual([true, false])
  end()
  press(90, 90)
  expect([given.length, isPointing(map), zoom.getActive()]).toEqual([2, false, true])
})
