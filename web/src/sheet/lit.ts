import { useMemo } from 'react'
import { create } from 'zustand'
import { answered, client } from '../api/client'
import type { Layer } from '../api/types'
import { numbersOf } from '../classify/numbers'
import { rowsOf } from './read'
import { useSheet } from './store'

interface Lit {
  layerId: string | null
  fids: number[]
}

/** The features of a layer that are lit on the map while something that stands for them is pointed at. */
export const useLit = create<Lit>(() => ({ layerId: null, fids: [] }))

/** Those of them that are rows of a dataset. */
export function useLitOf(dataset: string): ReadonlySet<number> {
  const { layerId, fids } = useLit()
  const own = useSheet((s) => s.document?.layers.find((layer) => layer.id === layerId)?.dataset === dataset)
  return useMemo(() => new Set(own ? fids : []), [own, fids])
}

const PAUSE = 90
let timer: ReturnType<typeof setTimeout> | undefined
let asked = 0

/** Light what an answer names, once the pointer rests; what was asked before is forgotten. */
function light(layer: Layer, ask: () => Promise<{ fids: number[] }>): void {
  clearTimeout(timer)
  // What a reading makes of the rows is drawn as pictures, which have no single features.
  if (layer.reading) return
  const own = ++asked
  timer = setTimeout(() => {
    void ask()
      .then(({ fids }) => own === asked && useLit.setState({ layerId: layer.id, fids }))
      .catch(() => undefined)
  }, PAUSE)
}

/** The features whose number lies between two; the lower one itself only where it is `closed`. */
export function lightRange(layer: Layer, low: number, high: number, closed: boolean): void {
  const numbers = numbersOf(layer)
  if (!numbers || numbers.band !== null) return
  light(layer, () =>
    answered(client.POST('/api/draw/features', { body: { ...numbers, low, high, closed, logarithmic: false } })),
  )
}

/** The features that a condition takes. */
export function lightCondition(layer: Layer, text: string): void {
  light(layer, () => answered(client.POST('/api/draw/condition/features', { body: { ...rowsOf(layer), text } })))
}

export function lightNothing(): void {
  clearTimeout(timer)
  asked += 1
  if (useLit.getState().fids.length) useLit.setState({ layerId: null, fids: [] })
}
