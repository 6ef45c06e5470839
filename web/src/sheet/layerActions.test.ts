import { expect, it } from 'vitest'
import type { Dataset, Layer } from '../api/types'
import { inAHueOfItsOwn, placeFor } from './layerActions'
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

it('begins in a hue that no other layer has, and in its first where all are taken', () => {
  const drawn = (fill: string) =>
    whole('Layer', { symbology: { kind: 'symbols', symbol: { fill, strokes: [] } } } as never)
  const dataset = whole('DatasetOut', {
    kind: 'points',
    starting: drawn('#0000aa'),
    hues: ['#0000aa', '#aa0000'],
  } as never)
  const fills = (...others: string[]) => inAHueOfItsOwn(dataset, others.map(drawn)).symbology
  expect(fills()).toMatchObject({ symbol: { fill: '#0000aa' } })
  expect(fills('#0000aa')).toMatchObject({ symbol: { fill: '#aa0000' } })
  expect(fills('#0000aa', '#aa0000')).toMatchObject({ symbol: { fill: '#0000aa' } })
})
