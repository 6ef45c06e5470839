import Box from '@mui/material/Box'
import type { Reader } from './reader'

const [WIDE, HIGH, BAND, KEY, TEXT, KEY_BAND] = [250, 156, 16, 44, 42, 16]
const TOOLS = ['measure', 'locate', 'layers', 'download', 'share', 'full_screen'] as const

/** The readers' page in small, with everything where it will stand. */
export function PageSketch({ reader }: { reader: Reader }) {
  const { controls, filters, time, near, text, search, key_at: keyAt } = reader
  const strip = (time ? 14 : 0) + (filters.length > 0 ? 30 : 0)
  const [keyLeft, keyRight] = [keyAt === 'left' ? KEY : 0, keyAt === 'right' ? KEY : 0]
  const tools = [...(near ? ['near'] : []), ...TOOLS.filter((name) => controls[name])]
  const bottom = HIGH - 8 - strip
  // The text stands on the other side of the map than the key, and at the left where that is below.
  const textAt = keyAt === 'left' ? WIDE - TEXT : 0
  const left = keyLeft || (text && keyAt !== 'left' ? TEXT : 0)
  const sheetBottom = bottom - (keyAt === 'below' ? KEY_BAND : 0)
  const keyX = keyAt === 'right' ? WIDE - KEY : 0
  return (
    <Box
      component="svg"
      viewBox={`0 0 ${WIDE} ${HIGH}`}
      role="img"
      aria-label={`The page: ${[search.length && 'search', ...tools, filters.length && 'filters', time && 'time', text && 'text'].filter(Boolean).join(', ') || 'map and key alone'}`}
      sx={{ width: '100%', maxHeight: 190, border: 1, borderColor: 'line', bgcolor: 'raised', color: 'text.secondary' }}
    >
      <g fill="none" stroke="currentColor" strokeWidth={0.7}>
        <path d={`M0 ${BAND}H${WIDE}M0 ${HIGH - 8}H${WIDE}`} />
        {(keyLeft || keyRight) > 0 && <path d={`M${keyLeft || WIDE - KEY} ${BAND}V${bottom}`} />}
        {keyAt === 'below' && <path d={`M0 ${sheetBottom}H${WIDE}`} />}
        {text && (
          <path d={`M${textAt || TEXT} ${BAND}V${sheetBottom}M${textAt + 6} ${BAND + 9}h26m-26 6h30m-30 6h22`} />
        )}
        {strip > 0 && <path d={`M0 ${bottom}H${WIDE}`} />}
        <path d={`M8 ${BAND / 2}h70`} strokeWidth={2.4} />
        <path d={`M8 ${HIGH - 4}h90`} />
        {[0, 1, 2, 3].map((i) => {
          const [x, y] = keyAt === 'below' ? [8 + 48 * i, sheetBottom + KEY_BAND / 2] : [keyX + 7, BAND + 10 + 9 * i]
          return <path key={i} d={`M${x} ${y}h6m4 0h20`} strokeWidth={i === 0 ? 2.4 : 1.4} />
        })}
        {controls.zoom && <path d={`M${left + 7} ${BAND + 6}h8v16h-8zM${left + 7} ${BAND + 14}h8`} />}
        {search.length > 0 && <rect x={WIDE - 14 - 12 * tools.length - 52} y={3} width={48} height={10} />}
        {tools.map((name, i) => (
          <rect key={name} x={WIDE - 12 * (tools.length - i) - 8} y={4} width={8} height={8} rx={1}>
            <title>{name.replace('_', ' ')}</title>
          </rect>
        ))}
        {time && <path d={`M8 ${bottom + 8}l5 -3v6zM20 ${bottom + 9}H${WIDE - 60}m8 0h36`} strokeWidth={1.2} />}
        {filters.slice(0, 5).map((filter, i) => {
          const [x, y] = [8 + 48 * i, bottom + strip - 26]
          return filter.kind === 'range' ? (
            <path key={i} d={`M${x} ${y + 14}v-4h6v-7h6v5h6v3h6v3M${x} ${y + 18}h40`} />
          ) : (
            <path key={i} d={`M${x} ${y + 3}h4v4h-4zm8 2h26M${x} ${y + 11}h4v4h-4zm8 2h22`} />
          )
        })}
      </g>
    </Box>
  )
}
