import { useEffect, useRef, useState } from 'react'

/** Ms after the last leap until rows are worth fetching. */
const SETTLED = 80

/**
 * Whether rows pass by faster than anybody reads them: more than a screenful from one drawing to the next, as where the bar at the side is dragged.
 */
export function useLeaps(first: number, screenful: number): boolean {
  const [leaping, setLeaping] = useState(false)
  const before = useRef(first)
  useEffect(() => {
    const leapt = screenful > 0 && Math.abs(first - before.current) > screenful
    before.current = first
    if (leapt) setLeaping(true)
    const timer = setTimeout(() => setLeaping(false), leapt ? SETTLED : 0)
    return () => clearTimeout(timer)
  }, [first, screenful])
  return leaping
}
