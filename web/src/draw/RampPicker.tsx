import { useQuery, keepPreviousData } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import ButtonBase from '@mui/material/ButtonBase'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Ramp, RampChoice } from '../api/types'
import { Glyph } from '../Glyph'
import { startingQuery } from '../sheet/queries'
import { OwnStops } from './OwnStops'
import { useOwnRamps } from './ownRamps'

const FAMILIES = ['sequential', 'diverging', 'qualitative'] as const

interface Props {
  value: RampChoice | null
  classes: number
  colours: string[]
  optional?: boolean
  onChange: (ramp: RampChoice | null) => void
}

/** All ramps in as many colours as there are classes, each with its verdict for colour-blind readers. */
export function RampPicker({ value, classes, colours, optional = false, onChange }: Props) {
  const n = Math.max(2, classes)
  const ramps = useQuery({
    queryKey: ['ramps', n],
    queryFn: () => answered(client.GET('/api/draw/ramps', { params: { query: { n } } })),
    staleTime: Infinity,
    placeholderData: keepPreviousData,
  })
  const own = useOwnRamps(n)
  const usual = useQuery(startingQuery).data?.ramp
  return (
    <Box sx={{ flex: 1, minWidth: 0 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, mb: 1, minHeight: 28, flexWrap: 'wrap' }}>
        <Typography variant="body2" color="text.secondary">
          Ramp
        </Typography>
        {value && (
          <>
            <Typography variant="body2">{value.stops.length ? 'by hand' : value.name}</Typography>
            <Tooltip title="Turn the ramp round" describeChild>
              <Button
                variant="outlined"
                startIcon={<Glyph name="turn" />}
                onClick={() => onChange({ ...value, reverse: !value.reverse })}
              >
                Reverse
              </Button>
            </Tooltip>
            {value.stops.length === 0 && <OwnColours value={value} colours={colours} onChange={onChange} />}
            <OwnStops value={value} shown={colours} onChange={onChange} />
          </>
        )}
        {optional && value && <Button onClick={() => onChange(null)}>One colour</Button>}
      </Box>
      <Box
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fill, minmax(190px, 1fr))', columnGap: 3, rowGap: 1 }}
      >
        {own.ramps.length > 0 && (
          <Box role="group" aria-label="mine">
            <Typography variant="caption" color="text.secondary">
              mine · Delete takes one out of the library
            </Typography>
            {own.ramps.map((ramp) => (
              <RampLine
                key={ramp.id}
                ramp={ramp}
                reverse={value?.reverse ?? false}
                chosen={ramp.stops.join() === value?.stops.join()}
                onChoose={() => usual && onChange({ ...usual, ...value, replaced: {}, stops: ramp.stops })}
                onRemove={ramp.may.includes('remove') ? () => own.remove(ramp) : undefined}
              />
            ))}
          </Box>
        )}
        {FAMILIES.map((family) => (
          <Box key={family} role="group" aria-label={family}>
            <Typography variant="caption" color="text.secondary">
              {family}
            </Typography>
            {ramps.data
              ?.filter((ramp) => ramp.family === family)
              .map((ramp) => (
                <RampLine
                  key={ramp.name}
                  ramp={ramp}
                  reverse={value?.reverse ?? false}
                  chosen={value?.name === ramp.name && value.stops.length === 0}
                  onChoose={() => usual && onChange({ ...usual, ...value, name: ramp.name, replaced: {}, stops: [] })}
                />
              ))}
          </Box>
        ))}
      </Box>
    </Box>
  )
}

function RampLine({
  ramp,
  reverse,
  chosen,
  onChoose,
  onRemove,
}: {
  ramp: Pick<Ramp, 'name' | 'colours' | 'alike'>
  reverse: boolean
  chosen: boolean
  onChoose: () => void
  /** Takes it out of the library, where it is in one. */
  onRemove?: () => void
}) {
  const colours = reverse ? [...ramp.colours].reverse() : ramp.colours
  const verdict =
    ramp.alike.length === 0
      ? 'All readers tell its neighbours apart.'
      : `Neighbours look alike to ${ramp.alike.map(({ readers, apart }) => `${readers} (${apart.toFixed(1)})`).join(', ')}.`
  return (
    <Tooltip title={verdict} placement="top">
      <ButtonBase
        aria-label={`Ramp ${ramp.name}. ${verdict}`}
        aria-pressed={chosen}
        onClick={onChoose}
        onKeyDown={(e) => e.key === 'Delete' && onRemove?.()}
        sx={{
          display: 'flex',
          width: '100%',
          alignItems: 'center',
          gap: 1,
          py: 0.5,
          px: 0.5,
          minHeight: 24,
          border: 1,
          borderColor: chosen ? 'primary.main' : 'transparent',
          '&:hover': { bgcolor: 'tint' },
        }}
      >
        <Box sx={{ display: 'flex', flex: 1, height: 15 }}>
          {colours.map((colour, i) => (
            <Box key={i} style={{ background: colour }} sx={{ flex: 1 }} />
          ))}
        </Box>
        <Typography variant="caption" sx={{ width: 62, textAlign: 'left' }}>
          {ramp.name}
        </Typography>
        <Typography variant="caption" sx={{ width: 12, color: 'text.secondary' }} aria-hidden="true">
          {ramp.alike.length ? '≈' : ''}
        </Typography>
      </ButtonBase>
    </Tooltip>
  )
}

/** The ramp's colours, each to be replaced by hand. */
function OwnColours({
  value,
  colours,
  onChange,
}: {
  value: RampChoice
  colours: string[]
  onChange: (ramp: RampChoice) => void
}) {
  return (
    <Box sx={{ display: 'flex', ml: 1 }}>
      {colours.map((colour, i) => (
        <Box
          key={i}
          component="input"
          type="color"
          aria-label={`Colour of class ${i + 1}`}
          value={colour}
          onChange={(e: React.ChangeEvent<HTMLInputElement>) =>
            onChange({ ...value, replaced: { ...value.replaced, [i]: e.target.value } })
          }
          sx={{ width: 24, height: 24, p: 0, border: 0, bgcolor: 'transparent', cursor: 'pointer' }}
        />
      ))}
    </Box>
  )
}
