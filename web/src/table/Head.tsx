import { type DragEvent, memo, useState } from 'react'
import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import type { Dataset } from '../api/types'
import { about, isNumeric } from '../fields'
import type { useColumns } from './columns'
import { Glimpse, inWords, useSummary } from './Glimpse'
import { COLUMN, FIRST, HEAD, leftOf } from './sizes'

export interface Sort {
  field: string
  descending: boolean
}

interface Props {
  dataset: Dataset
  layout: ReturnType<typeof useColumns>
  sort: Sort | null
  onSort: (sort: Sort | null) => void
}

const DRAGGED = 'text/column'

/** The names of the fields; pressing one sorts by it, upwards, then downwards, then no more. Dragged to another place, or hidden and kept
 * in view from the menu that the right button, or the menu key, opens. */
export const Head = memo(function Head({ dataset, layout, sort, onSort }: Props) {
  const summary = useSummary(dataset)
  const [menu, setMenu] = useState<{ name: string; anchor: HTMLElement } | null>(null)
  const { columns, frozen, hidden } = layout
  const act = (does: () => unknown) => {
    does()
    setMenu(null)
  }
  const dropped = (event: DragEvent, before: string) => {
    const name = event.dataTransfer.getData(DRAGGED)
    if (name) layout.move(name, before)
  }
  return (
    <Box
      role="row"
      sx={{
        position: 'sticky',
        top: 0,
        height: HEAD,
        display: 'flex',
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'line',
        zIndex: 2,
      }}
    >
      <Box
        role="columnheader"
        sx={{
          width: FIRST,
          px: 1,
          fontSize: 12,
          color: 'text.secondary',
          lineHeight: `${HEAD - 1}px`,
          ...(frozen > 0 && { position: 'sticky', left: 0, bgcolor: 'background.paper', zIndex: 1 }),
        }}
      >
        row
      </Box>
      {columns.map(({ field }, i) => {
        const by = sort?.field === field.name ? sort : null
        const known = summary.get(field.name)
        return (
          <Box
            key={field.name}
            role="columnheader"
            aria-sort={by ? (by.descending ? 'descending' : 'ascending') : 'none'}
            draggable
            onDragStart={(e) => e.dataTransfer.setData(DRAGGED, field.name)}
            onDragOver={(e) => e.dataTransfer.types.includes(DRAGGED) && e.preventDefault()}
            onDrop={(e) => dropped(e, field.name)}
            onContextMenu={(e) => {
              e.preventDefault()
              setMenu({ name: field.name, anchor: e.currentTarget })
            }}
            sx={{
              width: COLUMN,
              display: 'flex',
              ...(i < frozen && {
                position: 'sticky',
                left: leftOf(i, frozen),
                zIndex: 1,
                bgcolor: 'background.paper',
              }),
              ...(i === frozen - 1 && { borderRight: 1, borderColor: 'line' }),
            }}
          >
            <ButtonBase
              title={[about(field), known && inWords(known), 'Drag to move, right button for more']
                .filter(Boolean)
                .join('\n')}
              onClick={() => onSort(by?.descending ? null : { field: field.name, descending: by !== null })}
              sx={{
                flex: 1,
                minWidth: 0,
                flexDirection: 'column',
                alignItems: isNumeric(field) ? 'flex-end' : 'flex-start',
                justifyContent: 'center',
                px: 1,
                fontWeight: 600,
                fontSize: 12.5,
                overflow: 'hidden',
                whiteSpace: 'nowrap',
              }}
            >
              <span style={{ maxWidth: '100%', overflow: 'hidden', textOverflow: 'ellipsis' }}>
                {field.name}
                {by ? (by.descending ? ' ↓' : ' ↑') : ''}
              </span>
              {known && <Glimpse field={known} />}
            </ButtonBase>
          </Box>
        )
      })}
      <Menu anchorEl={menu?.anchor ?? null} open={menu !== null} onClose={() => setMenu(null)}>
        {menu && [
          <MenuItem key="hide" disabled={columns.length === 1} onClick={() => act(() => layout.hide(menu.name))}>
            Hide {menu.name}
          </MenuItem>,
          <MenuItem key="freeze" onClick={() => act(() => layout.freeze(menu.name))}>
            {columns[frozen - 1]?.field.name === menu.name
              ? 'Let all columns scroll'
              : `Keep columns up to ${menu.name} in view`}
          </MenuItem>,
          <MenuItem
            key="left"
            disabled={columns[0]?.field.name === menu.name}
            onClick={() => act(() => layout.shift(menu.name, -1))}
          >
            Move left
          </MenuItem>,
          <MenuItem
            key="right"
            disabled={columns.at(-1)?.field.name === menu.name}
            onClick={() => act(() => layout.shift(menu.name, 1))}
          >
            Move right
          </MenuItem>,
          <MenuItem key="plain" disabled={layout.plain} onClick={() => act(layout.reset)}>
            {hidden.length > 0
              ? `Show all columns (${hidden.length} hidden), as they were`
              : 'All columns as they were'}
          </MenuItem>,
        ]}
      </Menu>
    </Box>
  )
})
