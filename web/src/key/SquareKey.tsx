import type { KeyEntry } from '../api/types'

const SIDE = 22

/** The square of a two-way key, the low corner at the lower left; a field tells its limits and its count to who points at it. */
export function SquareKey({ entries, across }: { entries: KeyEntry[]; across: number }) {
  const up = entries.length / across
  return (
    <svg width={SIDE * across} height={SIDE * up} role="img" aria-label="Square of two classifications">
      {entries.map((entry, i) => (
        <rect
          key={entry.id}
          x={SIDE * (i % across)}
          y={SIDE * Math.floor(i / across)}
          width={SIDE}
          height={SIDE}
          fill={entry.mark?.fill ?? 'none'}
          fillOpacity={entry.mark?.fill_opacity ?? 1}
        >
          <title>{`${entry.text}: ${entry.count ?? 0}`}</title>
        </rect>
      ))}
    </svg>
  )
}
