import { useState } from 'react'
import { useQuery } from '@tanstack/react-query'
import Box from '@mui/material/Box'
import Button from '@mui/material/Button'
import Typography from '@mui/material/Typography'
import type { Dataset, Layer, RasterClasses } from '../api/types'
import { Labelled } from '../bench/Labelled'
import { NoLayer } from '../bench/NoLayer'
import { categoryNames, numericNames } from '../fields'
import { isRaster } from '../sheet/mapLayers'
import { useDataset, useInk } from '../sheet/queries'
import { lookOf, useLayerOfLook } from '../sheet/looks'
import { asRead } from '../sheet/read'
import { useChosenLayer, useSheet } from '../sheet/store'
import { BreakList } from './BreakList'
import { classingIn } from './classing'
import { FieldChoice, MethodControls } from './ClassingControls'
import { BandChoice } from '../draw/BandChoice'
import { ChannelPanels, variedIn } from '../draw/ChannelPanels'
import { inkRaster } from '../draw/rasterInk'
import { distributionQuery, numbersOf } from './numbers'
import { Figures } from './Figures'
import { Histogram } from './Histogram'
import { ALL } from './part'
import { Trials } from './Trials'
import { TwoSides } from '../draw/TwoWayPanel'
import { showField } from '../draw/varying'
import { editTwoWay, PairsPicture } from './PairsPicture'

const PLACES = { display: 'grid', gridTemplateColumns: '294px minmax(0, 1fr) 214px', height: '100%', minHeight: 180 }

/** Distribution with its breaks, and how they are made. */
export function Classify() {
  const layer = useChosenLayer()
  if (!layer) return <NoLayer />
  if (layer.symbology.kind === 'raster-classes') return <ClassifyBand layer={layer} ink={layer.symbology} />
  if (isRaster(layer)) return <NotInClasses layer={layer} />
  return <ClassifyLook layer={layer} />
}

/** A raster that is drawn otherwise can be put into classes too. */
function NotInClasses({ layer }: { layer: Layer }) {
  if (layer.symbology.kind === 'heat' || layer.symbology.kind === 'clusters')
    return (
      <NoLayer text="All its points are drawn together now. They can be drawn as themselves, and be classed: see Draw." />
    )
  return (
    <Box sx={{ p: 4, display: 'flex', flexDirection: 'column', gap: 2, alignItems: 'flex-start' }}>
      <Typography variant="body2" color="text.secondary">
        This raster is drawn otherwise now. Its values can be put into classes, each with a colour of its own.
      </Typography>
      <Button variant="outlined" onClick={() => void inkRaster(layer, 'raster-classes')}>
        Put its values into classes
      </Button>
    </Box>
  )
}

/** How many classes there are; of limits by hand the highest is made of the values where these go beyond them. */
function useClassCount(layer: Layer): number | undefined {
  return useInk(layer).data?.header.classes.length
}

/** The values of a raster's band, in classes. */
function ClassifyBand({ layer, ink }: { layer: Layer; ink: RasterClasses }) {
  const bands = Number(useDataset(layer.dataset)?.raster?.bands ?? 1)
  const { method, breaks, classes, nice } = ink.classing
  const count = useClassCount(layer)
  return (
    <Box sx={PLACES}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        {bands > 1 && <BandChoice layer={layer} band={ink.band} bands={bands} />}
        <MethodControls
          layerId={layer.id}
          method={method}
          classes={method === 'manual' ? (count ?? breaks.length) : classes}
          nice={nice}
        />
        <Fit layer={layer} />
        <Trials layer={layer} />
      </Box>
      <ClassesOnDistribution layer={layer} />
    </Box>
  )
}

/** The look being edited, a rule's or the layer's own, as if the layer had no other. */
function ClassifyLook({ layer }: { layer: Layer }) {
  return <ClassifyLayer layer={useLayerOfLook(layer)} />
}

function ClassifyLayer({ layer }: { layer: Layer }) {
  const kept = useDataset(layer.dataset)
  const dataset = kept && asRead(kept, layer)
  const classing = classingIn(lookOf(layer, null))
  const count = useClassCount(layer)
  if (!dataset) return <NoLayer text="The dataset of this layer is not in the library any more." />
  const encodings = lookOf(layer, null)?.encodings ?? {}
  const { colour } = encodings
  if (colour?.by === 'two-way')
    return (
      <Box sx={PLACES}>
        <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
          <TwoSides encoding={colour} dataset={dataset} onChange={(tag, values) => editTwoWay(layer.id, tag, values)} />
        </Box>
        <PairsPicture layer={layer} encoding={colour} />
      </Box>
    )
  if (!classing)
    return (
      <Box sx={{ p: 4, pt: 2, display: 'flex', flexDirection: 'column', gap: 2, alignItems: 'flex-start' }}>
        <ChannelPanels layer={layer} dataset={dataset} encodings={encodings} />
        <FieldsToShow dataset={dataset} varies={variedIn(encodings).length > 0} layer={layer} />
      </Box>
    )
  return (
    <Box sx={PLACES}>
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        <FieldChoice
          layerId={layer.id}
          dataset={dataset}
          field={classing.field}
          normalise={classing.normalise ?? null}
          weight={classing.weight ?? null}
        />
        <MethodControls
          layerId={layer.id}
          method={classing.method}
          classes={classing.method === 'manual' ? (count ?? classing.breaks.length) : classing.classes}
          nice={classing.nice}
        />
        <Fit layer={layer} />
        <Trials layer={layer} />
      </Box>
      <ClassesOnDistribution layer={layer} />
    </Box>
  )
}

/** What a layer without classes can show at a press. */
function FieldsToShow({ layer, dataset, varies }: { layer: Layer; dataset: Dataset; varies: boolean }) {
  const show = useSheet((s) => s.show)
  const numbers = numericNames(dataset.fields)
  const kinds = categoryNames(dataset.fields)
  if (numbers.length + kinds.length === 0)
    return (
      <>
        <Typography variant="body2" color="text.secondary">
          This layer has no field of numbers to classify. Join a table that has some, in Gather.
        </Typography>
        <Button variant="outlined" onClick={() => show('gather')}>
          Gather
        </Button>
      </>
    )
  return (
    <>
      {!varies && (
        <Typography variant="body2" color="text.secondary">
          Every feature of this layer looks alike. Choose what they are to show.
        </Typography>
      )}
      {[
        { words: 'Classes of', names: numbers },
        { words: 'Kinds of', names: kinds },
      ].map(
        ({ words, names }) =>
          names.length > 0 && (
            <Labelled key={words} label={words} wide>
              <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 1 }}>
                {names.map((field) => (
                  <Button key={field} variant="outlined" onClick={() => void showField(layer, field)}>
                    {field}
                  </Button>
                ))}
              </Box>
            </Labelled>
          ),
      )}
    </>
  )
}

function Fit({ layer }: { layer: Layer }) {
  const header = useInk(layer).data?.header
  if (!header?.method || header.fit === null) return null
  return (
    <>
      <Labelled label="Fit">
        <Box sx={{ flex: 1, height: 6, bgcolor: 'line', maxWidth: 110 }}>
          <Box style={{ width: `${Math.round(header.fit * 100)}%` }} sx={{ height: '100%', bgcolor: 'primary.main' }} />
        </Box>
        <Typography className="mono" variant="body2" data-testid="fit">
          {header.fit.toFixed(3)}
        </Typography>
      </Labelled>
      {header.note && (
        <Typography variant="caption" component="p" color="text.secondary" sx={{ m: 0, mt: 0.5 }}>
          {header.note}
        </Typography>
      )}
    </>
  )
}

function ClassesOnDistribution({ layer }: { layer: Layer }) {
  const ink = useInk(layer)
  const numbers = JSON.stringify(numbersOf(layer))
  const [shown, show] = useState({ numbers, part: ALL })
  // A part of other numbers means nothing for these.
  const part = shown.numbers === numbers ? shown.part : ALL
  const distribution = useQuery(distributionQuery(layer, part))
  const header = ink.data?.header
  const problem = distribution.error ?? ink.error
  if (problem)
    return (
      <Typography role="alert" variant="body2" sx={{ p: 3, color: 'error.main', gridColumn: 'span 2' }}>
        {problem.message}
      </Typography>
    )
  if (!distribution.data || !header?.method) return <Box sx={{ gridColumn: 'span 2' }} />
  return (
    <>
      <Box sx={{ display: 'flex', flexDirection: 'column', minWidth: 0, borderLeft: 1, borderColor: 'line' }}>
        <Figures of={distribution.data} />
        <Histogram
          layer={layer}
          header={header}
          distribution={distribution.data}
          part={part}
          onPart={(next) => show({ numbers, part: next })}
        />
      </Box>
      <BreakList layer={layer} header={header} />
    </>
  )
}
