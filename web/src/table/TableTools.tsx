import { useState } from 'react'
import { useMutation } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import IconButton from '@mui/material/IconButton'
import Tooltip from '@mui/material/Tooltip'
import Typography from '@mui/material/Typography'
import { answered, client } from '../api/client'
import type { Dataset, Edit } from '../api/types'
import { Glyph } from '../Glyph'
import { nextPlace } from '../sheet/mapBridge'
import { useChosenIn, useSheet } from '../sheet/store'
import { Fields } from './Fields'
import { History } from './History'
import { ManyCells } from './ManyCells'
import { useEdit, useStep, useTakeIn } from './useTable'

interface Props {
  dataset: Dataset
  where: string
  onRedelivery: () => void
}

/** What can be done to a table beside typing into its cells. */
export function TableTools({ dataset, where, onRedelivery }: Props) {
  const { fid: chosen } = useChosenIn(dataset.id)
  const [open, setOpen] = useState<'history' | 'fields' | 'many' | null>(null)
  const [placing, setPlacing] = useState(false)
  const edit = useEdit(dataset.id)
  const undo = useStep(dataset.id, 'undo')
  const redo = useStep(dataset.id, 'redo')
  const takeIn = useTakeIn()
  const remake = useMutation({
    mutationFn: () =>
      answered(client.POST('/api/datasets/{dataset_id}/remake', { params: { path: { dataset_id: dataset.id } } })),
    onSuccess: takeIn,
  })
  const points = dataset.kind === 'points'
  const busy = edit.isPending || undo.isPending || redo.isPending || remake.isPending
  const trouble = (edit.error ?? undo.error ?? redo.error ?? remake.error)?.message

  async function placed(then: (place: [number, number]) => Edit): Promise<Edit | null> {
    setPlacing(true)
    const place = await nextPlace()
    setPlacing(false)
    return place && then([place.lon, place.lat])
  }
  async function add() {
    const row: Edit | null = points
      ? await placed((place) => ({ do: 'add-row', values: {}, place }))
      : { do: 'add-row', values: {}, place: null }
    if (!row) return
    const changed = await edit.mutateAsync([row])
    // The newest row has the highest number: it is the last.
    const query = { offset: changed.rows - 1, limit: 1 }
    const last = await answered(
      client.GET('/api/datasets/{dataset_id}/rows', { params: { path: { dataset_id: dataset.id }, query } }),
    )
    useSheet.getState().chooseRows(dataset.id, [Number(last.rows[0]?.[0])])
  }
  async function move() {
    const fid = chosen
    const moved = fid === null ? null : await placed((place) => ({ do: 'move-point', fid, place }))
    if (moved) edit.mutate([moved])
  }
  return (
    <>
      <Box sx={{ flex: 1 }} />
      {(placing || trouble) && (
        // A line of its own: beside the tools there is room for a word.
        <Typography
          variant="body2"
          role={placing ? 'status' : 'alert'}
          sx={{ order: 1, flexBasis: '100%', color: placing ? undefined : 'error.main' }}
        >
          {placing ? 'Press on the map where it lies. Esc: not now.' : trouble}
        </Typography>
      )}
      {dataset.parents_changed && (
        <Button
          variant="contained"
          disabled={busy}
          title="What this was joined from has changed. The spellings that were settled are used again."
          onClick={() => remake.mutate()}
        >
          Join anew
        </Button>
      )}
      <Tool words="Add a row" glyph="plus" disabled={busy} onClick={() => void add().catch(() => {})} />
      {points && (
        <Tool
          words="Move the chosen point"
          glyph="move"
          disabled={busy || chosen === null}
          onClick={() => void move()}
        />
      )}
      <Tool
        words="Delete the chosen row"
        glyph="remove"
        disabled={busy || chosen === null}
        onClick={() =>
          chosen !== null &&
          edit.mutate([{ do: 'delete-rows', fids: [chosen] }], {
            onSuccess: () => useSheet.getState().chooseRows(dataset.id, []),
          })
        }
      />
      <Tool
        words="Undo in the table"
        glyph="undo"
        disabled={busy || !dataset.can_undo}
        onClick={() => undo.mutate(undefined)}
      />
      <Tool
        words="Do again in the table"
        glyph="redo"
        disabled={busy || !dataset.can_redo}
        onClick={() => redo.mutate(undefined)}
      />
      <Button onClick={() => setOpen('fields')}>Fields</Button>
      <Button onClick={() => setOpen('many')}>Change many</Button>
      <Button onClick={() => setOpen('history')}>History</Button>
      <Button variant="outlined" onClick={onRedelivery}>
        New delivery
      </Button>
      {open === 'history' && <History dataset={dataset} onClose={() => setOpen(null)} />}
      {open === 'many' && <ManyCells dataset={dataset} where={where} onClose={() => setOpen(null)} />}
      {open === 'fields' && <Fields dataset={dataset} onClose={() => setOpen(null)} />}
    </>
  )
}

interface ToolProps {
  words: string
  glyph: 'plus' | 'move' | 'remove' | 'undo' | 'redo'
  disabled: boolean
  onClick: () => void
}

function Tool({ words, glyph, disabled, onClick }: ToolProps) {
  return (
    <Tooltip title={words}>
      <span>
        <IconButton aria-label={words} disabled={disabled} onClick={onClick}>
          <Glyph name={glyph} />
        </IconButton>
      </span>
    </Tooltip>
  )
}
