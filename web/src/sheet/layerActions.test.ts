import { expect, it } from 'vitest'
import type { Dataset, Layer } from '../api/types'
import { placeFor } from './layerActions'
import { whole } from '../api/whole'

const known = ['points', 'lines', 'areas', 'raster'].map((kind) => ({ id: kind, kind })) as Dataset[]

function layers(...kinds: string[]): Layer[] {
  return kinds.map((kind, i) =>
    whole('Layer', { id: `${i}`, name: kind, dataset: kind, symbology: { kind: 'symbols' } }),
  )
}

it.each([
  ['areas', [], 0],
  ['areas', ['points', 'areas', 'raster'], 1],
  ['areas', ['points', 'lines'], 2],
  ['points', ['points', 'areas'], 0],
  ['lines', ['points', 'areas'], 1],
  ['raster', ['points', 'raster'], 2],
  // What somebody put over an area on purpose stays there.
  ['lines', ['areas', 'points', 'raster'], 0],
  ['areas', ['gone', 'points'], 0],
] as const)('%s over %j go to place %i', (kind, there, at) => {
  expect(placeFor(kind, layers(...there), known)).toBe(at)
})
