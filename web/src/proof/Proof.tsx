import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import InputBase from '@mui/material/InputBase'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Finding, Sheet } from '../api/types'
import { STAGE_WORDS } from '../course/Course'
import { type Stage, useSheet } from '../sheet/store'
import { useFindings } from './queries'

/** What a careful editor would catch: each finding with its reason, a place, and a one-press mend or an accepted exception. */
export function Proof() {
  const findings = useFindings()
  const open = findings.data?.filter((item) => !item.accepted) ?? []
  const accepted = findings.data?.filter((item) => item.accepted) ?? []
  if (findings.error)
    return (
      <Typography role="alert" sx={{ p: 3, color: 'error.main' }} variant="body2">
        {findings.error.message}
      </Typography>
    )
  return (
    <Box sx={{ px: 3, py: 1 }}>
      {findings.data && open.length === 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ py: 2 }}>
          Nothing to look at. The map is ready for readers.
        </Typography>
      )}
      <Box component="ul" aria-label="Findings" sx={{ listStyle: 'none', m: 0, p: 0 }}>
        {open.map((finding) => (
          <OneFinding key={finding.id} finding={finding} />
        ))}
      </Box>
      {accepted.length > 0 && (
        <>
          <Typography variant="caption" color="text.secondary" component="h3" sx={{ mt: 2, mb: 0, fontWeight: 600 }}>
            Accepted
          </Typography>
          <Box component="ul" aria-label="Accepted findings" sx={{ listStyle: 'none', m: 0, p: 0 }}>
            {accepted.map((finding) => (
              <OneFinding key={finding.id} finding={finding} />
            ))}
          </Box>
        </>
      )}
    </Box>
  )
}

function OneFinding({ finding }: { finding: Finding }) {
  const { edit, choose, show } = useSheet.getState()
  const [reason, setReason] = useState<string | null>(null)
  const mend = useMutation({
    mutationFn: () =>
      answered(
        client.POST('/api/draw/mend', {
          body: { finding: finding.id, document: useSheet.getState().document as Sheet },
        }),
      ),
    onSuccess: (mended) => edit('mend', (draft) => void Object.assign(draft, mended)),
  })
  const accept = () => {
    if (!reason?.trim()) return
    edit(
      'accept',
      (draft) => void (draft.accepted = [...draft.accepted, { finding: finding.id, reason: reason.trim() }]),
    )
    setReason(null)
  }
  const look = () => {
    if (finding.layer) choose(finding.layer)
    show(finding.stage as Stage)
  }
  return (
    <Box
      component="li"
      data-testid={`finding-${finding.id}`}
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) auto',
        gap: 2,
        py: 1.25,
        borderBottom: 1,
        borderColor: 'line',
        alignItems: 'center',
      }}
    >
      <Box>
        <Typography variant="body2" sx={{ fontWeight: 600 }}>
          {finding.text}
        </Typography>
        <Typography variant="body2" color="text.secondary">
          {finding.accepted ? `Accepted: ${finding.accepted}` : finding.reason}
        </Typography>
        {mend.error && (
          <Typography variant="caption" role="alert" sx={{ color: 'error.main' }}>
            {mend.error.message}
          </Typography>
        )}
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        {finding.accepted ? (
          <Button
            onClick={() =>
              edit(
                'accept',
                (draft) =>
                  void (draft.accepted = draft.accepted.filter((exception) => exception.finding !== finding.id)),
              )
            }
          >
            Look at it again
          </Button>
        ) : reason !== null ? (
          <>
            <InputBase
              autoFocus
              value={reason}
              placeholder="Why is it right as it is?"
              onChange={(e) => setReason(e.target.value)}
              onKeyDown={(e) => (e.key === 'Enter' ? accept() : e.key === 'Escape' && setReason(null))}
              inputProps={{ 'aria-label': 'Reason', maxLength: limits.Accepted.reason.most }}
              sx={{ width: 240, fontSize: 13, border: 1, borderColor: 'line', bgcolor: 'raised', px: 1, height: 26 }}
            />
            <Button variant="outlined" disabled={!reason.trim()} onClick={accept}>
              Accept
            </Button>
          </>
        ) : (
          <>
            {finding.mend && (
              <Button variant="contained" disabled={mend.isPending} onClick={() => mend.mutate()}>
                {finding.mend}
              </Button>
            )}
            <Button variant="outlined" onClick={look}>
              {STAGE_WORDS[finding.stage as Stage]}
            </Button>
            <Button onClick={() => setReason('')}>Accept …</Button>
          </>
        )}
      </Box>
    </Box>
  )
}
