import Autocomplete from '@mui/material/Autocomplete'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import Typography from '@mui/material/Typography'
import type { JoinIn, JoinView } from '../api/types'
import { useHatching } from '../sheet/hatched'
import { beginningFirst } from './beginningFirst'

interface Props {
  view: JoinView
  join: JoinIn
  onChange: (values: Partial<JoinIn>) => void
}

/** What does not fit, from both sides, each to be settled. */
export function Unmatched({ view, join, onChange }: Props) {
  const same = join.same
  useHatching(join.areas, view.fids_without_row)
  const settle = (key: string, area: string) => onChange({ same: { ...same, [key]: area } })
  const settled = Object.entries(same)
  const sure = [...new Set(view.rows_without_area)].flatMap((key) => {
    const best = view.suggestions[key]?.[0]
    return best?.sure ? [[key, best.area] as const] : []
  })
  return (
    <Box sx={{ overflow: 'auto', px: 3, py: 1.5 }} data-testid="unmatched">
      <Box sx={{ display: 'flex', gap: 4, alignItems: 'center', mb: 1, flexWrap: 'wrap' }}>
        <Typography variant="body2">
          <b>{view.matched}</b> of {view.areas} areas have a row
        </Typography>
        <Typography variant="body2">
          <b>{join.by === 'place' ? view.rows_elsewhere : view.rows_without_area.length}</b> of {view.rows} rows found
          no area
        </Typography>
        <Typography variant="body2">
          <b>{view.bare_areas}</b> areas without a row{view.bare_areas > 0 && ', hatched on the map'}
        </Typography>
        {sure.length > 0 && (
          <Button
            variant="outlined"
            title={sure.map(([key, area]) => `${key} → ${area}`).join('\n')}
            onClick={() => onChange({ same: { ...same, ...Object.fromEntries(sure) } })}
          >
            Take the {sure.length} that {sure.length === 1 ? 'is' : 'are'} sure
          </Button>
        )}
      </Box>
      {view.twins > view.duplicate_keys.length && (
        <Typography variant="body2" color="text.secondary">
          {view.twins.toLocaleString('en')} keys stand several times in the table: sum their rows up, rather than choose
          one of each.
        </Typography>
      )}
      {view.duplicate_keys.map((twin) => (
        <Box key={twin.key} sx={{ py: 0.75, borderTop: 1, borderColor: 'line' }}>
          <Typography variant="body2">
            <b>{twin.key}</b> stands {twin.rows.length} times in the table. Which row is right?
          </Typography>
          {twin.rows.map((row, i) => (
            <Box key={row} sx={{ display: 'flex', gap: 2, alignItems: 'center' }}>
              <Button variant="outlined" onClick={() => onChange({ chosen: { ...join.chosen, [twin.key]: row } })}>
                Row {row + 1}
              </Button>
              <Typography variant="caption" color="text.secondary" noWrap>
                {twin.texts[i]}
              </Typography>
            </Box>
          ))}
        </Box>
      ))}
      {view.rows_without_area.map((key, i) => (
        <Box
          key={`${key} ${i}`}
          data-testid="unmatched-row"
          sx={{
            display: 'grid',
            gridTemplateColumns: '130px minmax(0, 1fr) 160px auto',
            gap: 1.5,
            alignItems: 'center',
            py: 0.5,
            borderTop: 1,
            borderColor: 'line',
          }}
        >
          <Typography variant="body2" noWrap title={key}>
            {key || '(blank)'}
          </Typography>
          <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap' }}>
            {(view.suggestions[key] ?? []).map(({ area, likeness, sure: certain }) => (
              <Button
                key={area}
                variant="outlined"
                title={certain ? 'It can mean no other area' : 'It may mean another area'}
                onClick={() => settle(key, area)}
                sx={{ fontWeight: certain ? 600 : 400 }}
              >
                {area}
                <Box component="span" sx={{ ml: 1, fontSize: 11.5, color: 'text.secondary', fontWeight: 400 }}>
                  {certain ? 'sure' : `${Math.round(likeness)} %`}
                </Box>
              </Button>
            ))}
          </Box>
          <Autocomplete
            options={view.area_keys}
            filterOptions={beginningFirst}
            autoHighlight
            onChange={(_, area) => area && settle(key, area)}
            size="small"
            renderInput={(params) => (
              <TextField {...params} placeholder="another area" aria-label={`Area for ${key}`} />
            )}
            sx={{ '& .MuiOutlinedInput-root': { p: '0 6px' } }}
          />
          <Button onClick={() => settle(key, '')}>Leave out</Button>
        </Box>
      ))}
      {settled.length > 0 && (
        <Box sx={{ borderTop: 1, borderColor: 'line', pt: 1, mt: 1 }}>
          <Typography variant="caption" color="text.secondary">
            Settled
          </Typography>
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
            {settled.map(([key, area]) => (
              <Button
                key={key}
                variant="outlined"
                title="Open this again"
                onClick={() =>
                  onChange({ same: Object.fromEntries(settled.filter(([settledKey]) => settledKey !== key)) })
                }
                sx={{ fontWeight: 400 }}
              >
                {key} → {area || 'left out'} ×
              </Button>
            ))}
          </Box>
        </Box>
      )}
      {view.areas_without_row.length > 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ borderTop: 1, borderColor: 'line', pt: 1, mt: 1 }}>
          Areas without a row: {view.areas_without_row.slice(0, 40).join(', ')}
          {view.areas_without_row.length > 40 ? ' …' : ''}
        </Typography>
      )}
    </Box>
  )
}
