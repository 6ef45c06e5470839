import type { ComponentType } from 'react'
import type { Channel, Dataset, Encodings, Layer } from '../api/types'
import { CategoryPanel } from './CategoryPanel'
import { ClassColourPanel, ClassSizePanel } from './ClassPanels'
import { ComponentsPanel, SharesPanel } from './ComponentPanels'
import { TwoWayPanel } from './TwoWayPanel'
import { AnglePanel, OpacityPanel, RampPanel, ValueSizePanel } from './ValuePanels'

/** What a panel gets: the encoding that it edits, and how to change some of it. */
export interface PanelProps<E> {
  encoding: E
  dataset: Dataset
  layer: Layer
  /** Sizes in px are those of the key alone: on the map they are measured on the ground. */
  inKey?: boolean
  onChange: (tag: string, values: Partial<E>) => void
}

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- each panel is for the encoding that it is listed under
type AnyPanel = ComponentType<PanelProps<any>>

/** The encoding of a channel that varies in one way. */
export type EncodingBy<C extends Channel, B extends string> = Extract<NonNullable<Encodings[C]>, { by: B }>

/** The controls of each kind of encoding. */
export const PANELS: Partial<Record<Channel, Record<string, AnyPanel>>> = {
  colour: {
    classes: ClassColourPanel,
    value: RampPanel,
    category: CategoryPanel,
    'two-way': TwoWayPanel,
    largest: ComponentsPanel,
  },
  size: { classes: ClassSizePanel, value: ValueSizePanel },
  shares: { shares: SharesPanel },
  opacity: { value: OpacityPanel },
  angle: { value: AnglePanel },
}
