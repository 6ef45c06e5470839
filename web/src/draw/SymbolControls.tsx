import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import type { Layer, Stroke } from '../api/types'
import { Amount, Choice, Labelled } from '../bench/Labelled'
import { numericNames } from '../fields'
import { startingQuery, useDataset, useInk } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import { ColourField } from './ColourField'
import { turnLayer } from './turned'
import { RampPicker } from './RampPicker'

const KINDS = {
  single: 'All alike',
  classed: 'Colour by class',
  graduated: 'Size by class',
  proportional: 'Size by value',
} as const
type Kind = keyof typeof KINDS

/** Fill, stroke, size and ramp of a layer of areas, lines or points. */
export function SymbolControls({ layer, kind }: { layer: Layer; kind: string }) {
  const editLayer = useSheet((s) => s.editLayer)
  const dataset = useDataset(layer.dataset)
  const ink = useInk(layer).data?.header
  const numeric = numericNames(dataset?.fields)
  const symbology = layer.symbology
  const now = symbology.kind as Kind
  const change = (tag: string, values: object) =>
    editLayer(layer.id, `symbol-${tag}`, (draft) => void Object.assign(draft.symbology, values))
  const kinds = (
    kind === 'points' ? ['single', 'classed', 'graduated', 'proportional'] : ['single', 'classed']
  ) as Kind[]
  const noData = useQuery(startingQuery).data?.no_data ?? ''
  const stroke = 'stroke' in symbology ? symbology.stroke : null
  const firstField = 'classing' in symbology || 'field' in symbology ? null : (numeric[0] ?? null)
  const setStroke = (tag: string, values: Partial<Stroke>) =>
    change(`stroke-${tag}`, { stroke: { ...stroke, ...values } })

  return (
    <Box sx={{ display: 'flex', gap: 4, height: '100%' }}>
      <Box sx={{ flexShrink: 0 }}>
        <Choice
          label="Symbol"
          value={now}
          options={kinds.filter((k) => k === 'single' || numeric.length > 0).map((k) => [k, KINDS[k]] as const)}
          onChange={(next) => void turnLayer(layer, { kind: next, field: next === 'single' ? null : firstField })}
        />
        {(symbology.kind === 'single' || symbology.kind === 'graduated' || symbology.kind === 'proportional') &&
          kind !== 'lines' && (
            <Labelled label="Fill">
              <ColourField label="Fill" value={symbology.fill} onChange={(fill) => change('fill', { fill })} />
            </Labelled>
          )}
        {symbology.kind === 'proportional' && (
          <>
            <Choice
              label="Field"
              value={symbology.field}
              options={numeric.map((f) => [f, f] as const)}
              onChange={(field) => change('field', { field })}
            />
            <Choice
              label="Scaling"
              value={symbology.scaling}
              options={
                [
                  ['area', 'true to area'],
                  ['flannery', 'perceived area (Flannery)'],
                ] as const
              }
              onChange={(scaling) => change('scaling', { scaling })}
            />
          </>
        )}
        {symbology.kind === 'graduated' && (
          <Amount
            label="Smallest"
            value={symbology.smallest}
            from={0.5}
            to={20}
            step={0.1}
            onChange={(smallest) => change('smallest', { smallest })}
          />
        )}
        {(symbology.kind === 'graduated' || symbology.kind === 'proportional') && (
          <Amount
            label="Largest"
            value={symbology.largest}
            from={1}
            to={60}
            step={0.1}
            onChange={(largest) => change('largest', { largest })}
          />
        )}
        {(symbology.kind === 'single' || symbology.kind === 'classed') && kind === 'points' && (
          <Amount
            label="Radius"
            value={symbology.radius}
            from={0.5}
            to={30}
            step={0.1}
            onChange={(radius) => change('radius', { radius })}
          />
        )}
        {kind !== 'lines' && 'fill_opacity' in symbology && (
          <Amount
            label="Fill opacity"
            value={symbology.fill_opacity}
            from={0}
            to={1}
            step={0.01}
            onChange={(fill_opacity) => change('fill-opacity', { fill_opacity })}
          />
        )}
        {stroke && (
          <>
            <Amount
              label="Stroke"
              value={stroke.width}
              from={0}
              to={8}
              step={0.1}
              onChange={(width) => setStroke('width', { width })}
            />
            <Labelled label="Stroke colour">
              <ColourField
                label="Stroke colour"
                value={stroke.colour}
                onChange={(colour) => setStroke('colour', { colour })}
              />
            </Labelled>
          </>
        )}
        {(symbology.kind === 'classed' || symbology.kind === 'graduated') && (
          <Labelled label="No data">
            <ColourField
              label="Colour of no data"
              value={symbology.no_data ?? noData}
              onChange={(no_data) => change('no-data', { no_data })}
            />
            <label style={{ fontSize: 12.5, whiteSpace: 'nowrap' }}>
              <input
                type="checkbox"
                checked={symbology.no_data !== null}
                onChange={(e) => change('no-data', { no_data: e.target.checked ? noData : null })}
              />{' '}
              drawn
            </label>
          </Labelled>
        )}
      </Box>
      {(symbology.kind === 'classed' || symbology.kind === 'graduated') && (
        <RampPicker
          value={symbology.ramp ?? null}
          classes={ink?.classes.length ?? 5}
          colours={ink?.palette.slice(0, ink.classes.length).map((mark) => mark.fill) ?? []}
          optional={symbology.kind === 'graduated'}
          onChange={(ramp) => change('ramp', { ramp })}
        />
      )}
    </Box>
  )
}
