import Box from '@mui/material/Box'
import ButtonBase from '@mui/material/ButtonBase'
import type { Dataset } from '../api/types'
import { about, isNumeric } from '../fields'
import { Glimpse, inWords, useSummary } from './Glimpse'
import { COLUMN, FIRST, HEAD } from './Rows'

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
  const summary = useSummary(dataset)
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
        sx={{ width: FIRST, px: 1, fontSize: 12, color: 'text.secondary', lineHeight: `${HEAD - 1}px` }}
      >
        row
      </Box>
      {dataset.fields.map((field) => {
        const by = sort?.field === field.name ? sort : null
        const known = summary.get(field.name)
        return (
          <Box
            key={field.name}
            role="columnheader"
            aria-sort={by ? (by.descending ? 'descending' : 'ascending') : 'none'}
            sx={{ width: COLUMN, display: 'flex' }}
          >
            <ButtonBase
              title={known ? `${about(field)}\n${inWords(known)}` : about(field)}
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
    </Box>
  )
}
