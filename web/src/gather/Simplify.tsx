import { useEffect, useRef, useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Slider from '@mui/material/Slider'
import Typography from '@mui/material/Typography'
import { useTheme } from '@mui/material/styles'
import { answered, client } from '../api/client'
import type { Corrections, SimplifiedLook } from '../api/types'
import { Check } from '../bench/Check'
import { Labelled } from '../bench/Labelled'

interface Props {
  upload: string
  corrections: Partial<Corrections>
  /** Metres that they may lose unless somebody says otherwise. */
  proposed: number
  onChange: (values: Partial<Corrections>) => void
}

/** Steps of the slider: metres by quarter powers of ten, from one to a hundred kilometres. */
const metresAt = (step: number) => Number((10 ** (step / 4)).toPrecision(2))
const STEPS = 20
const stepOf = (metres: number) => Math.min(STEPS, Math.round(4 * Math.log10(metres)))

/** How much detail lines and borders may lose, with the shapes before and after over one another. */
export function Simplify({ upload, corrections, proposed, onChange }: Props) {
  const on = corrections.simplify != null
  const shown = useRef<HTMLDivElement>(null)
  // What the press brings stands below it, at the bench's usual height out of sight.
  useEffect(() => {
    if (on) shown.current?.scrollIntoView({ block: 'nearest' })
  }, [on])
  const [step, setStep] = useState(stepOf(corrections.simplify ?? proposed))
  const seen = useQuery({
    queryKey: ['simplified', upload, corrections],
    queryFn: () =>
      answered(
        client.POST('/api/uploads/{upload_id}/simplified', {
          params: { path: { upload_id: upload } },
          body: corrections as Corrections,
        }),
      ),
    enabled: on,
    placeholderData: (before) => before,
  })
  return (
    <Box ref={shown} sx={{ mt: 1 }}>
      <Check
        label="Fewer vertices; shared borders stay shared"
        checked={on}
        onChange={(now) => onChange({ simplify: now ? metresAt(step) : null })}
      />
      {on && (
        <Labelled label="May move by">
          <Slider
            value={step}
            min={0}
            max={STEPS}
            onChange={(_, next) => setStep(next as number)}
            onChangeCommitted={(_, next) => onChange({ simplify: metresAt(next as number) })}
            aria-label="Metres that shapes may move by"
            valueLabelDisplay="off"
            sx={{ flex: 1, mx: 1 }}
          />
          <span style={{ fontSize: 12.5, whiteSpace: 'nowrap' }}>{distance(metresAt(step))}</span>
        </Labelled>
      )}
      {on && seen.data && <BeforeAndAfter look={seen.data} />}
      {on && seen.error && (
        <Typography role="alert" variant="body2" sx={{ color: 'error.main' }}>
          {seen.error.message}
        </Typography>
      )}
    </Box>
  )
}

const distance = (metres: number) => (metres < 1000 ? `${metres} m` : `${metres / 1000} km`)

const SIDE = 268

function BeforeAndAfter({ look }: { look: SimplifiedLook }) {
  const { palette } = useTheme()
  const path = (lines: SimplifiedLook['before']) =>
    lines
      .map(
        (line) => `M${line.map(([x = 0, y = 0]) => `${Math.round(x * SIDE)} ${Math.round((1 - y) * SIDE)}`).join('L')}`,
      )
      .join('')
  return (
    <>
      <svg
        width={SIDE}
        height={SIDE}
        role="img"
        aria-label="A part of the shapes, before in grey and after in the accent colour"
        style={{ display: 'block', background: palette.background.default, border: `1px solid ${palette.line}` }}
      >
        <path d={path(look.before)} fill="none" stroke={palette.text.secondary} strokeOpacity={0.55} strokeWidth={3} />
        <path d={path(look.after)} fill="none" stroke={palette.primary.main} strokeWidth={1.2} />
      </svg>
      <Typography variant="caption" color="text.secondary" component="p" sx={{ m: 0 }}>
        {look.vertices_after.toLocaleString('en')} of {look.vertices_before.toLocaleString('en')} vertices,{' '}
        {kilobytes(look.bytes_after)} of {kilobytes(look.bytes_before)}
        {look.whole ? '' : ' in the first rows'}. A part of them is shown.
      </Typography>
    </>
  )
}

const kilobytes = (bytes: number) => `${Math.max(1, Math.round(bytes / 1024)).toLocaleString('en')} kB`
