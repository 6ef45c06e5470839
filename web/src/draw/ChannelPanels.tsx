import type { Channel, Dataset, Encodings, Layer } from '../api/types'
import { editLook } from '../sheet/looks'
import { variesBy } from './channels'
import { PANELS } from './panels'

/** The channels of a look that vary, each of which has a panel. */
export function variedIn(encodings: Encodings): Channel[] {
  return (Object.keys(PANELS) as Channel[]).filter((channel) => encodings[channel])
}

interface Props {
  layer: Layer
  dataset: Dataset
  /** Those of the look that is edited. */
  encodings: Encodings
  inKey?: boolean
}

/** How each channel that varies does so. */
export function ChannelPanels({ layer, dataset, encodings, inKey = false }: Props) {
  return variedIn(encodings).map((channel) => {
    const encoding = encodings[channel]
    const Panel = encoding ? PANELS[channel]?.[encoding.by] : undefined
    if (!encoding || !Panel) return null
    return (
      <Panel
        key={`${channel} ${variesBy(encodings, channel)}`}
        encoding={encoding}
        dataset={dataset}
        layer={layer}
        inKey={inKey}
        onChange={(tag: string, values: object) =>
          editLook(layer.id, `${channel}-${tag}`, (draft) => {
            const own = draft.encodings[channel]
            if (own) Object.assign(own, values)
          })
        }
      />
    )
  })
}
