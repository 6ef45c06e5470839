import Box from '@mui/material/Box'
import { NoLayer } from '../bench/NoLayer'
import { symbolsOf } from '../sheet/looks'
import { useDataset } from '../sheet/queries'
import { useChosenLayer } from '../sheet/store'
import { LayerControls } from './LayerControls'
import { LookControls } from './LookControls'
import { RasterControls } from './RasterControls'
import { RuleList } from './RuleList'

/** How features look, by which rules, and how the layer lies on what is below it. */
export function Draw() {
  const layer = useChosenLayer()
  const dataset = useDataset(layer?.dataset)
  if (!layer) return <NoLayer />
  if (!dataset) return <NoLayer text="The dataset of this layer is not in the library any more." />
  const raster = dataset.kind === 'raster' && !layer.reading
  const ruled = symbolsOf(layer) !== null
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: ruled ? '168px minmax(0, 1fr) 296px' : 'minmax(0, 1fr) 296px',
        height: '100%',
      }}
    >
      {ruled && <RuleList layer={layer} />}
      <Box sx={{ p: 2, pl: 3, overflow: 'auto' }}>
        {raster ? <RasterControls layer={layer} dataset={dataset} /> : <LookControls layer={layer} dataset={dataset} />}
      </Box>
      <LayerControls layer={layer} rows={!raster} />
    </Box>
  )
}
