import { useTheme } from '@mui/material/styles'

/** Nested rings with a wobble: quiet decoration for the sign-in page, drawn rather than shipped as a picture. */
export function Contours() {
  const theme = useTheme()
  const rings = Array.from({ length: 22 }, (_, i) => ring(i))
  return (
    <svg
      viewBox="0 0 800 800"
      preserveAspectRatio="xMidYMid slice"
      width="100%"
      height="100%"
      aria-hidden="true"
      style={{ display: 'block', background: theme.palette.background.default }}
    >
      {rings.map((d, i) => (
        <path
          key={i}
          d={d}
          fill="none"
          stroke={i % 5 === 0 ? theme.palette.primary.main : theme.palette.text.secondary}
          strokeOpacity={i % 5 === 0 ? 0.55 : 0.28}
          strokeWidth={i % 5 === 0 ? 1.3 : 0.8}
        />
      ))}
    </svg>
  )
}

function ring(i: number): string {
  const points = Array.from({ length: 181 }, (_, step) => {
    const turn = (step / 180) * 2 * Math.PI
    const wobble =
      1 +
      0.16 * Math.sin(3 * turn + 0.6 + i * 0.07) +
      0.07 * Math.sin(5 * turn - 1 + i * 0.11) +
      0.03 * Math.sin(11 * turn + i * 0.3)
    const radius = (26 + i * 25) * wobble
    return `${(430 + i * 4 + radius * Math.cos(turn)).toFixed(1)},${(390 + i * 3 + radius * 0.82 * Math.sin(turn)).toFixed(1)}`
  })
  return `M${points.join('L')}Z`
}
