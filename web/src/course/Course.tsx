import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import { useFindings } from '../proof/queries'
import { STAGES, type Stage, useSheet } from '../sheet/store'
import { moveAlong } from './tabs'

export const STAGE_WORDS: Record<Stage, string> = {
  gather: 'Gather',
  classify: 'Classify',
  draw: 'Draw',
  letter: 'Letter',
  explain: 'Explain',
  proof: 'Proof',
  publish: 'Publish',
}

const tabId = (stage: Stage) => `tab-${stage}`

/** The stages in the order of the work, all open at any time; each shows how much still wants attention. */
export function Course() {
  const stage = useSheet((s) => s.stage)
  const show = useSheet((s) => s.show)
  const findings = useFindings().data?.filter((item) => item.accepted === null) ?? []
  const count = (which: Stage) =>
    which === 'proof' ? findings.length : findings.filter((f) => f.stage === which).length
  return (
    <Box component="nav" aria-label="Stages">
      <Box
        role="tablist"
        aria-label="Course"
        onKeyDown={(e) => moveAlong(e, STAGES, stage, show, tabId)}
        sx={{ display: 'flex', px: 2, height: 30, bgcolor: 'background.paper', borderBottom: 1, borderColor: 'line' }}
      >
        {STAGES.map((step, i) => {
          const chosen = step === stage
          const open = count(step)
          return (
            <ButtonBase
              key={step}
              role="tab"
              id={tabId(step)}
              aria-selected={chosen}
              aria-controls="bench"
              tabIndex={chosen ? 0 : -1}
              onClick={() => show(step)}
              sx={{
                px: 3,
                gap: 1.5,
                fontSize: 13.5,
                fontWeight: chosen ? 600 : 400,
                borderBottom: 2,
                borderColor: chosen ? 'primary.main' : 'transparent',
                color: chosen ? 'text.primary' : 'text.secondary',
                '&:hover': { color: 'text.primary' },
              }}
            >
              <Box component="span" sx={{ fontSize: 11.5, color: chosen ? 'primary.main' : 'text.secondary' }}>
                {i + 1}
              </Box>
              {STAGE_WORDS[step]}
              {open > 0 && (
                <Box
                  component="span"
                  title={`${open} to look at`}
                  sx={{
                    fontSize: 11,
                    fontWeight: 600,
                    color: 'primary.contrastText',
                    bgcolor: 'primary.main',
                    borderRadius: 1,
                    px: 1.25,
                    lineHeight: '15px',
                  }}
                >
                  {open}
                </Box>
              )}
            </ButtonBase>
          )
        })}
      </Box>
    </Box>
  )
}
