import { afterEach, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { classedLayer } from '../api/forTests'
import type { Dataset } from '../api/types'
import { whole } from '../api/whole'
import { addLayer } from './layerActions'
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
