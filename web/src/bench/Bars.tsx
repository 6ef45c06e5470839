interface Props {
  bars: readonly number[]
  width: number
  height: number
  colour: string
  opacity?: number
  /** What it shows, for those who hear it; without, it is an ornament beside words that say the same. */
  label?: string
}

/** How values are spread, small: one bar for each of equal parts, the tallest as high as there is room. */
export function Bars({ bars, width, height, colour, opacity = 1, label }: Props) {
  const most = Math.max(1, ...bars)
  const step = width / Math.max(bars.length, 1)
  return (
    <svg
      width={width}
      height={height}
      style={{ display: 'block' }}
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
    >
      {bars.map((bar, i) => {
        const tall = bar === 0 ? 0 : Math.max(1, (bar / most) * height)
        return (
          <rect
            key={i}
            x={i * step}
            y={height - tall}
            width={step * 0.85}
            height={tall}
            fill={colour}
            opacity={opacity}
          />
        )
      })}
    </svg>
  )
}
