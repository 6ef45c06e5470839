import { Choice, Labelled } from '../bench/Labelled'
import { boundsInView } from '../sheet/mapBridge'
import { useDatasets } from '../sheet/queries'
import { useSheet } from '../sheet/store'
import type { Bounds } from './GlanceMap'
import { PlaceFilter } from './PlaceFilter'

export type Area =
  | { kind: 'everywhere' }
  | { kind: 'view'; bounds: Bounds | null }
  | { kind: 'box'; bounds: Bounds | null }
  | { kind: 'feature'; dataset: string; fid: number | null; title: string }

interface Props {
  area: Area
  /** What "everywhere" is called; without it there is no such choice. */
  everywhere?: string
  /** Whether a feature of areas can be chosen: the one that is chosen on the map, or all of a dataset. */
  features?: boolean
  onArea: (area: Area) => void
}

/** The box of an area, where it is one. */
export const boxOf = (area: Area): Bounds | null => (area.kind === 'view' || area.kind === 'box' ? area.bounds : null)

/** Where: everywhere, what the map shows, a box drawn on a small map, or an area by its name. */
export function AreaChoice({ area, everywhere, features = false, onArea }: Props) {
  const datasets = useDatasets()
  const fid = useSheet((s) => s.fid)
  const layer = useSheet((s) => s.document?.layers.find(({ id }) => id === s.layerId))
  const areas = datasets.filter(({ kind }) => kind === 'areas')
  const chosen = fid !== null && layer ? areas.find(({ id }) => id === layer.dataset) : undefined
  const value = area.kind === 'feature' ? `${area.dataset} ${area.fid ?? ''}` : area.kind
  const options: [string, string][] = [
    ...(everywhere ? [['everywhere', everywhere] as [string, string]] : []),
    ['view', 'what the map shows'],
    ['box', 'a box'],
    ...(features && chosen && fid !== null
      ? [[`${chosen.id} ${fid}`, `the chosen one of ${chosen.title}`] as [string, string]]
      : []),
    ...(features ? areas.map(({ id, title }): [string, string] => [`${id} `, `within ${title}`]) : []),
  ]
  const choose = async (next: string) => {
    if (next === 'everywhere') onArea({ kind: 'everywhere' })
    else if (next === 'view') onArea({ kind: 'view', bounds: await boundsInView() })
    else if (next === 'box') onArea({ kind: 'box', bounds: boxOf(area) })
    else {
      const [dataset = '', at = ''] = next.split(' ')
      const title = areas.find(({ id }) => id === dataset)?.title ?? ''
      onArea({ kind: 'feature', dataset, fid: at ? Number(at) : null, title })
    }
  }
  return (
    <>
      <Choice label="Where" value={value} options={options} onChange={(next) => void choose(next)} />
      {area.kind === 'box' && (
        <Labelled label="Box">
          <PlaceFilter
            datasets={datasets}
            place={area.bounds}
            nowhere="Draw it"
            onPlace={(bounds) => onArea({ kind: 'box', bounds })}
          />
        </Labelled>
      )}
    </>
  )
}
