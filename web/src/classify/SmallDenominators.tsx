import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Classing } from '../api/types'
import { EditableNumber } from '../bench/EditableNumber'
import { Labelled } from '../bench/Labelled'
import { rowsOf } from '../sheet/read'
import { layerOf } from '../sheet/store'
import { axisOf } from './axis'
import { chooseDivisor, taken } from './classing'

type ByField = Extract<NonNullable<Classing['normalise']>, { by: 'field' }>
const WIDTH = 166
const HEIGHT = 30

/** Rates of very few say little: below a limit they are drawn as rows without data. The limit stands in the histogram of what is divided by. */
export function SmallDenominators({ layerId, normalise }: { layerId: string; normalise: ByField }) {
  const layer = layerOf(layerId)
  const body = layer && { ...rowsOf(layer), field: normalise.field, normalise: null, without: [], logarithmic: true }
  const { data } = useQuery({
    queryKey: ['distribution', body],
    queryFn: () => answered(client.POST('/api/draw/distribution', { body: body ?? ({} as never) })),
    enabled: body !== null,
    staleTime: Infinity,
    retry: false,
  })
  const edges = data?.edges ?? []
  const { x, valueAt } = axisOf(edges[0] ?? 1, edges.at(-1) ?? 2, 0, WIDTH, true)
  const tallest = Math.max(1, ...(data?.counts ?? []))
  const set = (least: number | null) => chooseDivisor(layerId, { ...normalise, least })
  const small = data?.counts.reduce(
    (sum, count, i) => sum + ((edges[i + 1] ?? 0) <= (normalise.least ?? -Infinity) ? count : 0),
    0,
  )
  return (
    <Labelled label="Unsure below">
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 0.25 }}>
        <svg
          width={WIDTH}
          height={HEIGHT}
          role="img"
          aria-label={`Distribution of ${normalise.field}, logarithmic; the limit at ${normalise.least ?? 'none'}`}
          style={{ cursor: 'crosshair' }}
          onClick={(e) => data && set(taken(data, valueAt(e.clientX - e.currentTarget.getBoundingClientRect().left)))}
        >
          {data?.counts.map((count, i) => {
            const [from, to] = [edges[i] ?? 0, edges[i + 1] ?? 0]
            const high = Math.sqrt(count / tallest) * (HEIGHT - 2)
            const unsure = normalise.least !== null && to <= (normalise.least ?? 0)
            return (
              <rect
                key={i}
                x={x(from)}
                width={Math.max(1, x(to) - x(from) - 0.5)}
                y={HEIGHT - high}
                height={high}
                fill="currentColor"
                opacity={unsure ? 0.25 : 0.7}
              />
            )
          })}
          {normalise.least != null && (
            <line x1={x(normalise.least)} x2={x(normalise.least)} y1={0} y2={HEIGHT} stroke="currentColor" />
          )}
        </svg>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
          <EditableNumber
            label="Least denominator"
            value={normalise.least ?? 0}
            width={70}
            onChange={(least) => set(least > 0 ? least : null)}
          />
          <Typography variant="caption" color="text.secondary">
            {normalise.least == null ? 'press where' : `about ${small ?? 0} rows`}
          </Typography>
        </Box>
      </Box>
    </Labelled>
  )
}
