import { useTheme } from '@mui/material/styles'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { Preview } from '../api/types'
import { Bars } from '../bench/Bars'
import { counted, sizeOf } from '../wording'

const WIDTH = 240
const HEIGHT = 40

type Band = NonNullable<Preview['look']>['bands'][number]

/** A raster before it is kept: what it looks like, and how the values of its bands are spread. */
export function RasterPreview({ preview }: { preview: Preview }) {
  const { raster, look } = preview
  return (
    <Box sx={{ p: 2, fontSize: 13, overflow: 'auto', display: 'flex', gap: 3, alignItems: 'flex-start' }}>
      <Box sx={{ flexShrink: 0 }}>
        {look && (
          <Box
            component="img"
            src={`data:image/png;base64,${look.picture}`}
            alt={`What ${preview.title} looks like`}
            sx={{ display: 'block', maxWidth: 300, maxHeight: 150, border: 1, borderColor: 'line', mb: 1 }}
          />
        )}
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          {sizeOf({ rows: 0, raster })}, {counted(Number(raster?.bands), 'band')}, {String(raster?.colour)}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {[
            String(raster?.type),
            `nodata ${String(raster?.nodata ?? 'none')}`,
            look && look.colours > 0 && `${counted(look.colours, 'colour')} in its palette`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </Typography>
      </Box>
      <Box component="ul" aria-label="Bands" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {look?.bands.map((band, i) => (
          <BandLine key={i} band={band} number={i + 1} />
        ))}
      </Box>
    </Box>
  )
}

function BandLine({ band, number }: { band: Band; number: number }) {
  const { palette } = useTheme()
  const { name, low, high, mean, missing, bars } = band
  return (
    <Box component="li" sx={{ mb: 1 }}>
      <Typography variant="body2">
        {number} {name}
        <Typography component="span" variant="caption" color="text.secondary">
          {low === null || low === undefined ? ' no values' : ` ${short(low)} to ${short(high)}, mean ${short(mean)}`}
          {missing > 0 && `, ${(100 * missing).toFixed(missing < 0.1 ? 1 : 0)} % without a value`}
        </Typography>
      </Typography>
      {bars.length > 1 && (
        <Bars
          bars={bars}
          width={WIDTH}
          height={HEIGHT}
          colour={palette.primary.main}
          label={`How the values of band ${number} are spread`}
        />
      )}
    </Box>
  )
}

const short = (value: number | null | undefined) =>
  Number((value ?? 0).toPrecision(4)).toLocaleString('en', { maximumFractionDigits: 6 })
