import { expect, it } from 'vitest'
import { embedCode } from '../publish/embedCode'
import { placeFrom } from './place'

const PLAIN = { width: 700, height: 400, fits: false, view: null, without: [] }

it('reads a start view from an address', () => {
  expect(placeFrom('#9.5/52.01/-26.9')).toEqual({ zoom: 9.5, lat: 52.01, lon: -26.9 })
})

it('takes nothing else for one', () => {
  for (const hash of ['', '#', '#9/99/0', '#30/0/0', '#a/b/c', '#9/52/-27/x']) expect(placeFrom(hash)).toBeNull()
})

it('reads what the embed code writes', () => {
  const code = embedCode('https://example.org/e/x/', {
    ...PLAIN,
    view: { lon: -26.9, lat: 52.01, zoom: 9.5, x: 1, y: 2, round: true },
  })
  expect(code).toContain('width="700" height="400"')
  expect(placeFrom(/#[^"]+/.exec(code)?.[0] ?? '')).toEqual({ zoom: 9.5, lat: 52.01, lon: -26.9 })
})

it('reads a place in the units of a map that is not in the projection of the web', () => {
  const code = embedCode('https://e.org/x/', {
    ...PLAIN,
    view: { lon: 1, lat: 2, zoom: 4.25, x: -120000.5, y: 88, round: false },
  })
  expect(placeFrom(/#[^"]+/.exec(code)?.[0] ?? '')).toEqual({ zoom: 4.25, x: -120000.5, y: 88 })
})
