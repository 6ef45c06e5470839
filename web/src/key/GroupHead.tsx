import Box from '@mui/material/Box'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Group } from '../api/types'
import { Glyph } from '../Glyph'
import { duplicateGroup, editGroup, ungroup } from '../sheet/groups'
import { EditableText } from './EditableText'

/** The heading of layers that are composed as one. */
export function GroupHead({ group }: { group: Group }) {
  const { id, name, visible, blend, heading } = group
  return (
    <Box
      role="group"
      aria-label={`Group ${name}`}
      data-testid={`group-${id}`}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.5,
        px: 1.5,
        pt: 1,
        bgcolor: 'tint',
        opacity: visible ? 1 : 0.6,
      }}
    >
      <EditableText
        value={name}
        label={`Name of group ${name}`}
        most={limits.Group.name.most}
        locked={false}
        onChange={(text) => text.trim() && editGroup(id, 'name', (draft) => void (draft.name = text.trim()))}
        sx={{ fontSize: 12.5, fontWeight: 600 }}
      />
      <Typography variant="caption" color="text.secondary">
        {blend === 'normal' ? '' : blend}
      </Typography>
      <Tooltip title={visible ? 'Hide the group' : 'Show the group'}>
        <IconButton
          aria-label={`${visible ? 'Hide' : 'Show'} group ${name}`}
          onClick={() => editGroup(id, 'visible', (draft) => void (draft.visible = !visible))}
        >
          <Glyph name={visible ? 'shown' : 'hidden'} />
        </IconButton>
      </Tooltip>
      <Tooltip title={heading ? 'Leave its name out of the readers’ key' : 'Put its name into the readers’ key'}>
        <IconButton
          aria-label={`${heading ? 'Leave' : 'Put'} the name of group ${name} ${heading ? 'out of' : 'into'} the readers’ key`}
          aria-pressed={heading}
          onClick={() => editGroup(id, 'heading', (draft) => void (draft.heading = !draft.heading))}
        >
          <Glyph name={heading ? 'minus' : 'plus'} />
        </IconButton>
      </Tooltip>
      <Tooltip title="Duplicate the group">
        <IconButton aria-label={`Duplicate group ${name}`} onClick={() => duplicateGroup(id)}>
          <Glyph name="copy" />
        </IconButton>
      </Tooltip>
      <Tooltip title="Let its layers go; they stay on the map">
        <IconButton aria-label={`Dissolve group ${name}`} onClick={() => ungroup(id)}>
          <Glyph name="minus" />
        </IconButton>
      </Tooltip>
    </Box>
  )
}
