import { beforeEach, describe, expect, it, vi } from 'vitest'
import { client } from '../api/client'
import { whole } from '../api/whole'
import { duplicateLayer, moveLayer } from './layerActions'
import { levelBelow, quarterBelow, roundedOut } from './levels'
import { useSheet } from './store'

const layer = (id: string) => whole('Layer', { id, name: id, dataset: 'd', symbology: { kind: 'symbols' } })

beforeEach(() => {
  vi.useFakeTimers()
  useSheet.getState().open('s', 1, whole('Sheet', { title: 'T', layers: [layer('a'), layer('b')] }))
})

const title = () => useSheet.getState().document?.title
const ids = () => useSheet.getState().document?.layers.map((item) => item.id)

describe('keeping', () => {
  it('sends what was changed, and nothing where nothing was', async () => {
    const sent = vi.spyOn(client, 'PUT').mockResolvedValue({ data: { revision: 2 }, response: new Response() } as never)
    await useSheet.getState().flush()
    expect(sent).not.toHaveBeenCalled()
    useSheet.getState().edit('title', (draft) => void (draft.title = 'A'))
    await useSheet.getState().flush()
    await useSheet.getState().flush()
    expect(sent).toHaveBeenCalledTimes(1)
    expect(useSheet.getState()).toMatchObject({ revision: 2, unkept: false, stale: null })
    sent.mockRestore()
  })
})

describe('undo', () => {
  it('goes back and forth', () => {
    const { edit, undo, redo } = useSheet.getState()
    edit('one', (draft) => void (draft.title = 'A'))
    edit('two', (draft) => void (draft.title = 'B'))
    undo()
    expect(title()).toBe('A')
    undo()
    expect(title()).toBe('T')
    redo()
    redo()
    expect(title()).toBe('B')
  })

  it('takes quick edits of one thing as one step', () => {
    const { edit, undo } = useSheet.getState()
    for (const text of ['A', 'AB', 'ABC']) edit('title', (draft) => void (draft.title = text))
    undo()
    expect(title()).toBe('T')
  })

  it('forgets what was undone once something else is changed', () => {
    const { edit, undo, redo } = useSheet.getState()
    edit('one', (draft) => void (draft.title = 'A'))
    undo()
    edit('two', (draft) => void (draft.title = 'B'))
    redo()
    expect(title()).toBe('B')
  })

  it('does not count an edit that changes nothing', () => {
    useSheet.getState().edit('none', () => undefined)
    expect(useSheet.getState().past).toHaveLength(0)
  })
})

describe('an edit', () => {
  it('leaves what it does not touch the same objects, so that only what changed is drawn again', () => {
    const before = useSheet.getState().document?.layers ?? []
    useSheet.getState().editLayer('a', 'name', (draft) => void (draft.name = 'A'))
    const after = useSheet.getState().document?.layers ?? []
    expect(after[0]?.name).toBe('A')
    expect(after[0]?.symbology).toBe(before[0]?.symbology)
    expect(after[1]).toBe(before[1])
    expect(before[0]?.name).toBe('a')
  })
})

describe('undo beyond this window', () => {
  it('asks the server for the revision before', async () => {
    const answer = { data: { id: 's', revision: 2, document: { title: 'Second' } }, response: { ok: true } }
    const get = vi.spyOn(client, 'GET').mockResolvedValue(answer as never)
    useSheet.getState().open('s', 3, whole('Sheet', { title: 'Third' }))
    useSheet.getState().undo()
    await vi.advanceTimersByTimeAsync(10)
    expect(title()).toBe('Second')
    expect(get.mock.calls[0]?.[1]).toEqual({ params: { path: { sheet_id: 's', number: 2 } } })
    useSheet.getState().redo()
    expect(title()).toBe('Third')
  })
})

describe('layers', () => {
  it('are duplicated above the original with an id of their own', () => {
    duplicateLayer('b')
    expect(ids()).toEqual(['a', 'layer-3', 'b'])
  })

  it('move up and down, and no further than the ends', () => {
    moveLayer('a', 1)
    expect(ids()).toEqual(['b', 'a'])
    moveLayer('a', 1)
    expect(ids()).toEqual(['b', 'a'])
  })
})

it('labels are placed at whole levels, for a view that is rounded out', () => {
  expect([9.9, 10, 9.249].map(quarterBelow)).toEqual([9.75, 10, 9])
  expect([9.9, 10, 9.249].map(levelBelow)).toEqual([9, 10, 9])
  expect(roundedOut([-1, 10, 1500, 1030], 1)).toEqual([-1024, 0, 2048, 2048])
  expect(roundedOut([-1, 10, 1500, 1030], 0.5)).toEqual([-512, 0, 1536, 1536])
})

describe('features', () => {
  it('know of which dataset they are', () => {
    const { choose, chooseRows, chooseToo } = useSheet.getState()
    const chosen = () => {
      const { fid, also, of } = useSheet.getState()
      return { fid, also, of }
    }
    chooseRows('other', [3, 4])
    expect(chosen()).toEqual({ fid: 3, also: [4], of: 'other' })
    chooseToo(7)
    expect(chosen()).toEqual({ fid: 7, also: [], of: null })
    chooseRows('d', [5])
    expect(chosen().of).toBeNull()
    chooseRows('other', [3])
    choose('b', 1)
    expect(chosen()).toEqual({ fid: 1, also: [], of: null })
    chooseRows('other', [])
    expect(chosen().fid).toBeNull()
  })

  it('are chosen one by one, and more of them besides', () => {
    const { choose, chooseToo } = useSheet.getState()
    const chosen = () => [useSheet.getState().fid, useSheet.getState().also]
    useSheet.setState({ layerId: 'a', fid: null, also: [] })
    chooseToo(4)
    chooseToo(7)
    chooseToo(9)
    expect(chosen()).toEqual([4, [7, 9]])
    chooseToo(7)
    expect(chosen()).toEqual([4, [9]])
    chooseToo(4)
    expect(chosen()).toEqual([9, []])
    chooseToo(2)
    choose('a', 5)
    expect(chosen()).toEqual([5, []])
  })
})
