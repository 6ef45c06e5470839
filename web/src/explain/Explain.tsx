import { useState } from 'react'
import { SideTabs } from '../bench/SideTabs'
import { CardPanel } from './CardPanel'
import { FiltersPanel } from './FiltersPanel'
import { NearPanel } from './NearPanel'
import { PagePanel } from './PagePanel'
import { TimePanel } from './TimePanel'

const PARTS = { card: 'Card', filters: 'Filters', time: 'Time', near: 'Near', page: 'Page' } as const

/** What readers can ask of the map. */
export function Explain() {
  const [part, setPart] = useState<keyof typeof PARTS>('card')
  return (
    <SideTabs label="Explain" parts={PARTS} value={part} onChange={setPart}>
      {part === 'card' && <CardPanel />}
      {part === 'filters' && <FiltersPanel />}
      {part === 'time' && <TimePanel />}
      {part === 'near' && <NearPanel />}
      {part === 'page' && <PagePanel />}
    </SideTabs>
  )
}
