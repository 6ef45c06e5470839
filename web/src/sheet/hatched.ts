import { useEffect } from 'react'
import { create } from 'zustand'

interface Hatched {
  dataset: string | null
  fids: readonly number[]
}

const NONE: Hatched = { dataset: null, fids: [] }

/** Areas that are hatched on the map while something is said of them: those to which no row was joined, say. */
export const useHatched = create<Hatched>(() => NONE)

/** Hatch features of a dataset as long as what says so is on screen. */
export function useHatching(dataset: string, fids: readonly number[]): void {
  useEffect(() => {
    useHatched.setState({ dataset, fids })
    return () => useHatched.setState(NONE)
  }, [dataset, fids])
}
