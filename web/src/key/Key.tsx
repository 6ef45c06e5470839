import { Fragment } from 'react'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import { dropLayer } from '../sheet/groups'
import { useSheet } from '../sheet/store'
import { SortableList } from '../bench/SortableList'
import { Ground } from './Ground'
import { GroupHead } from './GroupHead'
import { KeyLayer } from './KeyLayer'
import { ProjectionLine } from './ProjectionLine'

/** What readers will read, edited in place. It is the list of layers too. */
export function Key() {
  const layers = useSheet((s) => s.document?.layers) ?? []
  const groups = useSheet((s) => s.document?.groups) ?? []
  const { edit, show } = useSheet.getState()
  return (
    <Box
      component="aside"
      aria-label="Key"
      id="key"
      tabIndex={-1}
      sx={{
        width: { xs: 208, md: 268 },
        flexShrink: 0,
        bgcolor: 'background.paper',
        borderRight: 1,
        borderColor: 'line',
        display: 'flex',
        flexDirection: 'column',
        minHeight: 0,
      }}
    >
      <Box sx={{ flex: 1, overflow: 'auto' }}>
        {layers.length === 0 && (
          <Box sx={{ p: 4 }}>
            <Typography variant="body2" color="text.secondary" sx={{ mb: 2 }}>
              The key is empty. Bring in data, or draw a dataset from the library.
            </Typography>
            <Button variant="outlined" onClick={() => show('gather')}>
              Gather data
            </Button>
          </Box>
        )}
        <SortableList
          ids={layers.map((layer) => layer.id)}
          onMove={(moved, onto) => edit('order', (draft) => dropLayer(draft, moved, onto))}
        >
          {layers.map((layer, i) => {
            const first = layer.group !== layers[i - 1]?.group
            const group = first ? groups.find((each) => each.id === layer.group) : undefined
            return (
              <Fragment key={layer.id}>
                {group && <GroupHead group={group} />}
                <KeyLayer layer={layer} />
              </Fragment>
            )
          })}
        </SortableList>
      </Box>
      <ProjectionLine />
      <Ground />
    </Box>
  )
}
