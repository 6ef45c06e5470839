import { lazy, Suspense, useState } from 'react'
import Badge from '@mui/material/Badge'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Popover from '@mui/material/Popover'
import Tooltip from '@mui/material/Tooltip'
import type { Dataset } from '../api/types'
import { Glyph } from '../Glyph'
import { useGather } from '../gather/gatherState'
import { rowsRead } from '../sheet/read'

const ConditionEditor = lazy(() => import('../rules/ConditionEditor'))

interface Props {
  dataset: Dataset
  where: string
  others: Record<string, string>
}

/** Which rows of a table are shown, by a condition as rules have it. */
export function RowFilter({ dataset, where, others }: Props) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const set = (text: string) => useGather.setState({ where: text })
  return (
    <>
      <Badge color="primary" variant="dot" invisible={!where}>
        <Button size="small" title={where || 'Show only some rows'} onClick={(e) => setAnchor(e.currentTarget)}>
          Only rows where
        </Button>
      </Badge>
      {where && (
        <Tooltip title="All rows again">
          <IconButton aria-label="All rows" onClick={() => set('')}>
            <Glyph name="cross" />
          </IconButton>
        </Tooltip>
      )}
      <Popover
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'top', horizontal: 'left' }}
        transformOrigin={{ vertical: 'bottom', horizontal: 'left' }}
      >
        <Box sx={{ p: 1.5, width: 420 }}>
          <Suspense fallback={<Box sx={{ height: 60 }} />}>
            <ConditionEditor
              low
              rows={{ ...rowsRead(dataset), others }}
              value={where}
              label="Rows of the table"
              onChange={set}
              onCompare={(name, id) => useGather.setState({ others: { ...others, [name]: id } })}
            />
          </Suspense>
        </Box>
      </Popover>
    </>
  )
}
