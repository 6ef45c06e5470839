import { type PointerEvent, useCallback, useState } from 'react'
import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { Classify } from '../classify/Classify'
import { STAGE_WORDS } from '../course/Course'
import { Draw } from '../draw/Draw'
import { Explain } from '../explain/Explain'
import { Gather } from '../gather/Gather'
import { Glyph } from '../Glyph'
import { Letter } from '../letter/Letter'
import { Proof } from '../proof/Proof'
import { Publish } from '../publish/Publish'
import { type Stage, useChosenLayer, useSheet } from '../sheet/store'
import { benchState } from './benchState'
import { useStateLine } from './useStateLine'

const STAGE_BENCH = {
  gather: Gather,
  classify: Classify,
  draw: Draw,
  letter: Letter,
  explain: Explain,
  proof: Proof,
  publish: Publish,
}
const LEAST = 120

/** Wide and low; what is being decided sits here. Its height is dragged and remembered; folded, it still says the state. */
export function Bench() {
  const stage = useSheet((s) => s.stage)
  const folded = benchState((s) => s.folded)
  const height = benchState((s) => s.height)
  const [dragging, setDragging] = useState(false)
  const Stage = STAGE_BENCH[stage]

  const drag = useCallback((event: PointerEvent<HTMLElement>) => {
    const from = event.clientY
    const start = benchState.getState().height
    event.currentTarget.setPointerCapture(event.pointerId)
    setDragging(true)
    const move = (e: globalThis.PointerEvent) =>
      benchState.getState().resize(Math.min(Math.max(LEAST, start + from - e.clientY), window.innerHeight - 260))
    const end = () => {
      setDragging(false)
      window.removeEventListener('pointermove', move)
      window.removeEventListener('pointerup', end)
    }
    window.addEventListener('pointermove', move)
    window.addEventListener('pointerup', end)
  }, [])

  return (
    <Box
      id="bench"
      role="tabpanel"
      tabIndex={-1}
      aria-label={`Bench: ${STAGE_WORDS[stage]}`}
      sx={{
        bgcolor: 'background.paper',
        borderTop: 1,
        borderColor: 'line',
        height: folded ? 28 : height,
        display: 'flex',
        flexDirection: 'column',
        flexShrink: 0,
      }}
    >
      {!folded && (
        <Box
          role="separator"
          aria-orientation="horizontal"
          aria-label="Height of the bench"
          aria-valuenow={height}
          aria-valuemin={LEAST}
          aria-valuemax={window.innerHeight - 260}
          tabIndex={0}
          onPointerDown={drag}
          onKeyDown={(e) => {
            const by = { ArrowUp: 20, ArrowDown: -20 }[e.key]
            if (by === undefined) return
            e.preventDefault()
            benchState.getState().resize(Math.min(Math.max(LEAST, height + by), window.innerHeight - 260))
          }}
          sx={{
            height: 5,
            mt: '-3px',
            cursor: 'row-resize',
            flexShrink: 0,
            zIndex: 2,
            bgcolor: dragging ? 'primary.main' : 'transparent',
            '&:hover': { bgcolor: 'primary.main', opacity: 0.6 },
          }}
        />
      )}
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          px: 3,
          height: 27,
          flexShrink: 0,
          borderBottom: folded ? 0 : 1,
          borderColor: 'line',
          gap: 2,
        }}
      >
        <StateLine stage={stage} />
        <Tooltip title={folded ? 'Unfold the bench (K)' : 'Fold the bench (K)'}>
          <IconButton
            aria-label={folded ? 'Unfold the bench' : 'Fold the bench'}
            onClick={() => benchState.getState().fold()}
          >
            <Glyph name={folded ? 'up' : 'down'} />
          </IconButton>
        </Tooltip>
      </Box>
      {!folded && (
        <Box sx={{ flex: 1, minHeight: 0, overflow: 'auto' }}>
          {/* What is wide by nature keeps its width, and is scrolled to where the window is narrow. */}
          <Box sx={{ minWidth: 720, height: '100%' }}>
            <Stage />
          </Box>
        </Box>
      )}
    </Box>
  )
}

function StateLine({ stage }: { stage: Stage }) {
  const layer = useChosenLayer()
  const line = useStateLine(stage, layer)
  return (
    <>
      <Typography component="h2" variant="body2" sx={{ fontWeight: 600 }} noWrap>
        {layer && !['gather', 'proof', 'publish'].includes(stage) ? layer.name : STAGE_WORDS[stage]}
      </Typography>
      <Typography variant="body2" color="text.secondary" noWrap sx={{ flex: 1 }} data-testid="state-line">
        {line}
      </Typography>
    </>
  )
}
