import { create } from 'zustand'

interface BenchState {
  height: number
  folded: boolean
  resize: (height: number) => void
  fold: () => void
}

/** Height and fold of the bench, remembered by this browser. */
export const benchState = create<BenchState>((set, get) => ({
  height: Number(localStorage.getItem('bench-height')) || 286,
  folded: false,
  resize: (height) => {
    localStorage.setItem('bench-height', String(height))
    set({ height })
  },
  fold: () => set({ folded: !get().folded }),
}))
