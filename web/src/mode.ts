import { createContext, useContext } from 'react'
import type { Mode } from './theme'

/** The theme in use and how to turn to the other one. */
export const ModeContext = createContext<{ mode: Mode; turn: () => void }>({ mode: 'light', turn: () => undefined })
export const useMode = () => useContext(ModeContext)
