import { afterEach, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { classedLayer } from '../api/forTests'
import type { Dataset } from '../api/types'
import { whole } from '../api/whole'
import { addLayer, fitToLayer } from './layerActions'
import * as mapBridge from './mapBridge'
import { useSheet } from './store'

afterEach(() => vi.restoreAllMocks())

it('puts a layer where the server says, under a name of its own, and gives credit once', async () => {
  const begun = { ...classedLayer('layer', {}), name: 'Wells' }
  vi.spyOn(client, 'POST').mockResolvedValue({ data: { layer: begun, at: 1 }, response: new Response() } as never)
  const layers = [classedLayer('layer-2', {}), classedLayer('b', {})]
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers } as never))
  await addLayer({ id: 'wells', credit: 'Isle survey' } as Dataset)
  const { document, undo } = useSheet.getState()
  expect(document?.layers.map(({ id }) => id)).toEqual(['layer-2', 'layer-3', 'b'])
  expect(document?.furniture.credits).toBe('Isle survey')
  undo()
  expect(useSheet.getState().document?.layers).toHaveLength(2)
})

it('moves the map to what one layer draws, whatever else there is and whether it is seen', async () => {
  const asked = vi
    .spyOn(client, 'POST')
    .mockResolvedValue({ data: { box: [1, 2, 3, 4] }, response: new Response() } as never)
  const moved = vi.spyOn(mapBridge, 'fitToBox').mockImplementation(() => undefined)
  const layers = [{ ...classedLayer('a', {}), visible: false, filter: 'v > 4' }, classedLayer('b', {})]
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers } as never))
  await fitToLayer('a')
  const alone = [expect.objectContaining({ id: 'a', visible: true, filter: 'v > 4' }) as object]
  expect(asked).toHaveBeenCalledWith('/api/draw/extent', { body: expect.objectContaining({ layers: alone }) as object })
  expect(moved).toHaveBeenCalledWith([1, 2, 3, 4])
})
