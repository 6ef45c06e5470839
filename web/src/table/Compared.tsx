import type { ReactNode } from 'react'
import Box from '@mui/material/Box'
import Typography from '@mui/material/Typography'
import type { RedeliveryView } from '../api/types'
import { counted } from '../wording'
import { cellText } from './cellText'

/** What a delivery would change, before it does. */
export function Compared({ view }: { view: RedeliveryView }) {
  const kinds: [string, number, string][] = [
    ['new', view.new, 'success.main'],
    ['changed', view.changed, 'primary.main'],
    ['moved', view.moved, 'primary.main'],
    ['gone', view.gone, 'error.main'],
    ['as they were', view.same, 'text.secondary'],
  ]
  const total = Math.max(1, view.new + view.gone + view.changed + view.same)
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'auto 90px minmax(0, 1fr)', gap: 1, alignItems: 'center' }}>
        {kinds.map(([words, n, colour]) => (
          <Box key={words} sx={{ display: 'contents', fontSize: 13 }}>
            <Box>{words}</Box>
            <Box sx={{ textAlign: 'right' }}>{counted(n, 'row')}</Box>
            <Box
              sx={{ height: 8, width: `${Math.min(100, (100 * n) / total)}%`, minWidth: n ? 2 : 0, bgcolor: colour }}
            />
          </Box>
        ))}
      </Box>
      {view.unfit.length > 0 && (
        <Part title="What no longer fits">
          {view.unfit.map((words) => (
            <Typography key={words} variant="body2" sx={{ color: 'error.main' }}>
              {words}
            </Typography>
          ))}
        </Part>
      )}
      {view.fields_new.length + view.fields_gone.length + view.retyped.length + view.emptied.length > 0 && (
        <Part title="Fields">
          {view.fields_new.length > 0 && <Line>new: {view.fields_new.join(', ')}</Line>}
          {view.fields_gone.length > 0 && <Line>gone: {view.fields_gone.join(', ')}</Line>}
          {view.emptied.length > 0 && (
            <Line>
              <strong>empty from now on: {view.emptied.join(', ')}</strong>
            </Line>
          )}
          {view.retyped.length > 0 && <Line>of another type: {view.retyped.join(', ')}</Line>}
        </Part>
      )}
      {view.differences.length > 0 && (
        <Part title={`Changed rows${view.changed > view.differences.length ? ', the first of them' : ''}`}>
          {view.differences.map((difference) => (
            <Line key={difference.key}>
              <strong>{difference.key}</strong>{' '}
              {Object.keys(difference.now)
                .map((field) => `${field} ${said(difference.was[field])} → ${said(difference.now[field])}`)
                .join(' · ')}
            </Line>
          ))}
        </Part>
      )}
      {view.new_keys.length > 0 && <Part title="New">{listed(view.new_keys, view.new)}</Part>}
      {view.gone_keys.length > 0 && <Part title="Gone">{listed(view.gone_keys, view.gone)}</Part>}
    </>
  )
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box sx={{ mt: 2 }}>
      <Typography variant="body2" sx={{ fontWeight: 600 }}>
        {title}
      </Typography>
      {children}
    </Box>
  )
}

function Line({ children }: { children: ReactNode }) {
  return <Typography variant="body2">{children}</Typography>
}

function listed(keys: string[], all: number): ReactNode {
  return (
    <Line>
      {keys.join(', ')}
      {all > keys.length ? ` and ${(all - keys.length).toLocaleString('en')} more` : ''}
    </Line>
  )
}

function said(value: unknown): string {
  return cellText(value) || 'nothing'
}
