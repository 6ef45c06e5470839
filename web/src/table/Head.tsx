import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import type { Dataset } from '../api/types'
import { about, isNumeric } from '../fields'
import { COLUMN, FIRST } from './Rows'

export interface Sort {
  field: string
  descending: boolean
}

interface Props {
  dataset: Dataset
  sort: Sort | null
  onSort: (sort: Sort | null) => void
}

/** The names of the fields; pressing one sorts by it, upwards, then downwards, then no more. */
export function Head({ dataset, sort, onSort }: Props) {
  return (
    <Box
      role="row"
      sx={{
        position: 'sticky',
        top: 0,
        height: 26,
        display: 'flex',
        bgcolor: 'background.paper',
        borderBottom: 1,
        borderColor: 'line',
        zIndex: 2,
      }}
    >
      <Box role="columnheader" sx={{ width: FIRST, px: 1, fontSize: 12, color: 'text.secondary', lineHeight: '25px' }}>
        row
      </Box>
      {dataset.fields.map((field) => {
        const by = sort?.field === field.name ? sort : null
        return (
          <Box
            key={field.name}
            role="columnheader"
            aria-sort={by ? (by.descending ? 'descending' : 'ascending') : 'none'}
            sx={{ width: COLUMN, display: 'flex' }}
          >
            <ButtonBase
              title={about(field)}
              onClick={() => onSort(by?.descending ? null : { field: field.name, descending: by !== null })}
              sx={{
                flex: 1,
                minWidth: 0,
                justifyContent: isNumeric(field) ? 'flex-end' : 'flex-start',
                px: 1,
                fontWeight: 600,
                fontSize: 12.5,
                overflow: 'hidden',
                whiteSpace: 'nowrap',
              }}
            >
              {field.name}
              {by ? (by.descending ? ' ↓' : ' ↑') : ''}
            </ButtonBase>
          </Box>
        )
      })}
    </Box>
  )
}
