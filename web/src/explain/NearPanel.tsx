import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import * as limits from '../api/generated/limits'
import { answered, client } from '../api/client'
import type { Near } from '../api/types'
import { Check } from '../bench/Check'
import { EditableNumber } from '../bench/EditableNumber'
import { Choice, Labelled } from '../bench/Labelled'
import { startingQuery } from '../sheet/queries'
import { editReader, useAskedLayers, useReader } from './reader'

/** Whether readers ask what lies near a place. */
export function NearPanel() {
  const reader = useReader()
  const asked = useAskedLayers()
  const starting = useQuery(startingQuery).data
  if (!reader || !starting) return null
  const { near } = reader
  const set = (values: Partial<Near>) =>
    editReader('near', (draft) => void (draft.near = { ...(draft.near ?? starting.near), ...values }))
  const begin = async () => {
    const dataset = asked[0]?.layer.dataset
    if (dataset) set(await answered(client.POST('/api/draw/near', { body: { dataset } })))
  }
  if (!near)
    return (
      <Box sx={{ p: 3 }}>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 2 }}>
          Readers press a place, or stand at one, and see what lies within a distance of it, as a list and on the map.
        </Typography>
        <Button variant="outlined" disabled={asked.length === 0} onClick={() => void begin()}>
          Let them ask
        </Button>
      </Box>
    )
  const all = near.layers.length === 0
  const taken = (id: string) => all || near.layers.includes(id)
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '290px minmax(0, 1fr)', gap: 4, p: 2, pl: 3, overflow: 'auto' }}>
      <Box>
        <Choice
          label="Unit"
          value={near.unit}
          options={
            [
              ['km', 'kilometres'],
              ['mi', 'miles'],
            ] as const
          }
          onChange={(unit) => set({ unit })}
        />
        <Labelled label="At first">
          <EditableNumber
            label="Distance at first"
            value={near.distance}
            limits={{ ...limits.Near.distance, most: near.largest }}
            width={64}
            onChange={(distance) => set({ distance })}
          />
          {near.unit}
        </Labelled>
        <Labelled label="At most">
          <EditableNumber
            label="Largest distance"
            value={near.largest}
            limits={limits.Near.largest}
            width={64}
            onChange={(largest) => set({ largest, distance: Math.min(near.distance, largest) })}
          />
          {near.unit}
        </Labelled>
        <Button
          variant="outlined"
          sx={{ mt: 1 }}
          onClick={() => editReader('near', (draft) => void (draft.near = null))}
        >
          Do not let them ask
        </Button>
      </Box>
      <Box sx={{ display: 'flex', flexDirection: 'column', gap: 1 }}>
        <Typography variant="body2" color="text.secondary">
          Counted and listed
        </Typography>
        {asked.map(({ layer }) => (
          <Check
            key={layer.id}
            label={layer.name}
            checked={taken(layer.id)}
            onChange={(on) => {
              const before = all ? asked.map((each) => each.layer.id) : near.layers
              const layers = on ? [...before, layer.id] : before.filter((id) => id !== layer.id)
              if (layers.length > 0) set({ layers: layers.length === asked.length ? [] : layers })
            }}
          />
        ))}
      </Box>
    </Box>
  )
}
