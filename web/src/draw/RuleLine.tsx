import type { ReactNode } from 'react'
import { useSortable } from '@dnd-kit/sortable'
import { CSS } from '@dnd-kit/utilities'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import IconButton from '@mui/material/IconButton'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import type { Rule } from '../api/types'
import { Glyph } from '../Glyph'
import { lightNothing } from '../sheet/lit'
import { EditableText } from '../key/EditableText'

interface Props {
  rule: Rule
  count: number | null
  chosen: boolean
  onChoose: () => void
  onChange: (tag: string, values: Partial<Rule>) => void
  onRemove: () => void
  /** Show on the map which rows it takes. */
  onPoint: () => void
  /** Show them in the table; null: they are not in it. */
  onRows: (() => void) | null
  /** Where its condition is written while it is the chosen one. */
  children: ReactNode
}

/** A rule: its name, how many rows it takes, its condition in small or being written. */
export function RuleLine({ rule, count, chosen, onChoose, onChange, onRemove, onPoint, onRows, children }: Props) {
  const sort = useSortable({ id: rule.id })
  return (
    <Box
      ref={sort.setNodeRef}
      style={{ transform: CSS.Translate.toString(sort.transform), transition: sort.transition }}
      role="group"
      aria-label={`Rule ${rule.name}`}
      aria-current={chosen}
      tabIndex={chosen ? undefined : 0}
      onClick={onChoose}
      onPointerEnter={onPoint}
      onPointerLeave={lightNothing}
      onFocus={onPoint}
      onBlur={lightNothing}
      onKeyDown={(e) => e.key === 'Enter' && e.target === e.currentTarget && onChoose()}
      sx={{
        borderLeft: 3,
        borderColor: chosen ? 'primary.main' : 'transparent',
        bgcolor: chosen ? 'raised' : 'transparent',
        opacity: rule.active ? 1 : 0.5,
        px: 0.5,
        py: 0.25,
        cursor: 'pointer',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Box
          {...sort.attributes}
          {...sort.listeners}
          aria-label={`Move ${rule.name}`}
          sx={{ cursor: 'grab', display: 'flex', color: 'text.secondary', touchAction: 'none' }}
        >
          <Glyph name="grip" sx={{ fontSize: 13 }} />
        </Box>
        <EditableText
          value={rule.name}
          label={`Name of rule ${rule.name}`}
          most={limits.Rule.name.most}
          locked={!chosen}
          onChange={(name) => name.trim() && onChange('name', { name: name.trim() })}
          sx={{ fontSize: 13 }}
        />
        <ButtonBase
          disabled={!onRows}
          aria-label={`Rows of ${rule.name} in the table`}
          title="Its rows in the table"
          onClick={(e) => {
            e.stopPropagation()
            onRows?.()
          }}
          sx={{
            fontSize: 12,
            color: 'text.secondary',
            minWidth: 24,
            minHeight: 24,
            textDecoration: 'underline dotted',
          }}
        >
          {count?.toLocaleString('en') ?? ''}
        </ButtonBase>
        <IconButton
          aria-label={`${rule.active ? 'Rest' : 'Use'} ${rule.name}`}
          title={rule.active ? 'Let it rest' : 'Use it'}
          onClick={(e) => {
            e.stopPropagation()
            onChange('active', { active: !rule.active })
          }}
          sx={{ p: 0 }}
        >
          <Glyph name={rule.active ? 'shown' : 'hidden'} />
        </IconButton>
        <IconButton
          aria-label={`Remove rule ${rule.name}`}
          onClick={(e) => {
            e.stopPropagation()
            onRemove()
          }}
          sx={{ p: 0 }}
        >
          <Glyph name="minus" />
        </IconButton>
      </Box>
      {chosen ? (
        children
      ) : (
        <Typography className="mono" noWrap title={rule.where} sx={{ fontSize: 11, color: 'text.secondary', pl: 2 }}>
          {rule.where || 'every row that is left'}
        </Typography>
      )}
    </Box>
  )
}
