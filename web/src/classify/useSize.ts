import { type RefObject, useEffect, useState } from 'react'

/** Px of an element as they are now, `first` until it is there. */
export function useSize(host: RefObject<HTMLElement | null>, first: { width: number; height: number }) {
  const [size, setSize] = useState(first)
  useEffect(() => {
    if (!host.current) return
    const observer = new ResizeObserver(
      ([entry]) => entry && setSize({ width: entry.contentRect.width, height: entry.contentRect.height }),
    )
    observer.observe(host.current)
    return () => observer.disconnect()
  }, [host])
  return size
}
