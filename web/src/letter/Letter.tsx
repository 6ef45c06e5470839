import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Checkbox from '@mui/material/Checkbox'
import FormControlLabel from '@mui/material/FormControlLabel'
import Typography from '@mui/material/Typography'
import type { Lettering } from '../api/types'
import { Check } from '../bench/Check'
import { EditableNumber } from '../bench/EditableNumber'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { NoLayer } from '../bench/NoLayer'
import { ColourField } from '../draw/ColourField'
import { useDataset } from '../sheet/queries'
import { asRead } from '../sheet/read'
import { useChosenLayer, useSheet } from '../sheet/store'
import { ContestFields, NOTHING } from './ContestFields'
import { LeftOut } from './LeftOut'

/** Names where they can be read. */
export function Letter() {
  const layer = useChosenLayer()
  const kept = useDataset(layer?.dataset)
  const editLayer = useSheet((s) => s.editLayer)
  if (!layer) return <NoLayer />
  const dataset = kept && asRead(kept, layer)
  if (!dataset || dataset.kind === 'raster')
    return (
      <NoLayer text="A raster has no names to letter. Choose a layer of areas, lines or points, or draw it as contours." />
    )
  const lettering = layer.lettering
  if (!lettering) {
    const [field] = dataset.fields
    const named = dataset.fields.some((each) => each.name === dataset.lettering?.field)
    const first =
      dataset.lettering && field && (named ? dataset.lettering : { ...dataset.lettering, field: field.name })
    return (
      <Box sx={{ p: 4 }}>
        <Typography variant="body2" color="text.secondary" sx={{ mb: 2 }}>
          This layer has no labels.
        </Typography>
        <Button
          variant="outlined"
          disabled={!first}
          onClick={() => first && editLayer(layer.id, 'lettering', (draft) => void (draft.lettering = first))}
        >
          Letter it with '{first?.field}'
        </Button>
      </Box>
    )
  }
  const change = (tag: string, values: Partial<Lettering>) =>
    editLayer(layer.id, `lettering-${tag}`, (draft) => void (draft.lettering = { ...lettering, ...values }))
  const numeric = dataset.fields.find((f) => f.name === lettering.field)?.type === 'number'
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(2, 286px) minmax(0, 1fr)',
        gap: 3,
        height: '100%',
        p: 2,
        pl: 3,
      }}
    >
      <Box sx={{ overflow: 'auto' }}>
        <Choice
          label="Field"
          value={lettering.field}
          options={dataset.fields.map((f) => [f.name, f.name] as const)}
          onChange={(field) => change('field', { field })}
        />
        <Choice
          label="Below it"
          value={lettering.below ?? NOTHING}
          options={[
            [NOTHING, 'nothing'],
            ...dataset.fields.filter((f) => f.name !== lettering.field).map((f) => [f.name, f.name] as const),
          ]}
          onChange={(field) => change('below', { below: field === NOTHING ? null : field })}
        />
        <Amount
          label="Size"
          value={lettering.size}
          from={8}
          to={32}
          step={0.5}
          onChange={(size) => change('size', { size: Math.min(72, Math.max(6, size)) })}
        />
        <Labelled label="Colour">
          <ColourField
            label="Colour of labels"
            value={lettering.colour}
            onChange={(colour) => change('colour', { colour })}
          />
          <Check
            label="capitals"
            checked={lettering.capitals}
            onChange={(capitals) => change('capitals', { capitals })}
          />
        </Labelled>
        {numeric && (
          <Labelled label="Decimals">
            <EditableNumber
              label="Decimals"
              value={lettering.decimals ?? 0}
              width={52}
              onChange={(decimals) => change('decimals', { decimals: Math.min(10, Math.max(0, Math.round(decimals))) })}
            />
            {lettering.decimals != null && (
              <Button onClick={() => change('decimals', { decimals: null })}>as they come</Button>
            )}
          </Labelled>
        )}
        <Amount
          label="Halo"
          value={lettering.halo}
          from={0}
          to={6}
          step={0.1}
          onChange={(halo) => change('halo', { halo })}
        />
        <Labelled label="Halo colour">
          <ColourField
            label="Colour of the halo"
            value={lettering.halo_colour}
            onChange={(halo_colour) => change('halo-colour', { halo_colour })}
          />
        </Labelled>
        {dataset.kind === 'areas' && (
          <Labelled label="Small areas">
            <FormControlLabel
              control={
                <Checkbox
                  checked={lettering.must_fit}
                  onChange={(e) => change('must-fit', { must_fit: e.target.checked })}
                />
              }
              label="only where it fits inside"
              slotProps={{ typography: { variant: 'body2', noWrap: true } }}
              sx={{ ml: -1 }}
            />
          </Labelled>
        )}
        {dataset.kind === 'lines' && (
          <Labelled label="Lines">
            <FormControlLabel
              control={
                <Checkbox
                  checked={lettering.along ?? false}
                  onChange={(e) => change('along', { along: e.target.checked })}
                />
              }
              label="labels follow them"
              slotProps={{ typography: { variant: 'body2', noWrap: true } }}
              sx={{ ml: -1 }}
            />
          </Labelled>
        )}
        <Labelled label="">
          <Button
            variant="outlined"
            onClick={() => editLayer(layer.id, 'lettering', (draft) => void (draft.lettering = null))}
          >
            Take the labels off
          </Button>
        </Labelled>
      </Box>
      <ContestFields lettering={lettering} dataset={dataset} onChange={change} />
      <LeftOut />
    </Box>
  )
}
