import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Popover from '@mui/material/Popover'
import type { Icon } from '../api/types'
import { Glyph } from '../Glyph'
import { startingQuery } from '../sheet/queries'
import { IconPicker } from './IconPicker'

const SIDE = 22

interface Props {
  label: string
  value: string | null
  /** Whether there may be none, which is that of the symbol. */
  optional?: boolean
  onChange: (shape: string) => void
  /** Where there may be an icon in place of a shape: the one there is, and how to take another. */
  icon?: Icon | null
  onIcon?: (icon: Icon | null) => void
}

/** The shapes of points, to look at and to take. */
export function ShapePicker({ label, value, optional = false, onChange, icon, onIcon }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const shapes = useQuery(startingQuery).data?.shapes ?? []
  const chosen = shapes.find((shape) => shape.name === value)
  return (
    <>
      <ButtonBase
        aria-label={label}
        title={icon ? icon.name || 'an icon' : (chosen?.name ?? 'as the symbol')}
        onClick={(e) => setAnchor(e.currentTarget)}
        sx={{ border: 1, borderColor: 'line', bgcolor: 'raised', width: 28, height: 26, flexShrink: 0 }}
      >
        {icon ? <Glyph name="picture" /> : chosen ? <ShapeGlyph path={chosen.path} /> : optional && '–'}
      </ButtonBase>
      <Popover open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <Box
          role="listbox"
          aria-label={`${label}: shapes`}
          sx={{ display: 'grid', gridTemplateColumns: 'repeat(6, 1fr)', p: 1, gap: 0.5 }}
        >
          {shapes.map((shape) => (
            <ButtonBase
              key={shape.name}
              role="option"
              aria-selected={shape.name === value && !icon}
              aria-label={shape.name}
              title={shape.name}
              onClick={() => {
                onChange(shape.name)
                setAnchor(null)
              }}
              sx={{
                width: 34,
                height: 34,
                border: 1,
                borderColor: shape.name === value && !icon ? 'primary.main' : 'transparent',
                '&:hover': { bgcolor: 'action.hover' },
              }}
            >
              <ShapeGlyph path={shape.path} />
            </ButtonBase>
          ))}
        </Box>
        {onIcon && (
          <IconPicker
            value={icon ?? null}
            onChange={(next) => {
              onIcon(next)
              if (next) setAnchor(null)
            }}
          />
        )}
      </Popover>
    </>
  )
}

function ShapeGlyph({ path }: { path: string }) {
  const middle = `translate(${SIDE / 2} ${SIDE / 2}) scale(7)`
  return (
    <svg width={SIDE} height={SIDE} aria-hidden="true" fill="currentColor">
      {path ? <path d={path} transform={middle} /> : <circle r={1} transform={middle} />}
    </svg>
  )
}
