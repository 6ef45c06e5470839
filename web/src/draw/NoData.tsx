import { useQuery } from '@tanstack/react-query'
import { Check } from '../bench/Check'
import { Labelled } from '../bench/Labelled'
import { startingQuery } from '../sheet/queries'
import { ColourField } from './ColourField'

/** The colour of features of which nothing is known, or whether they are left out. */
export function NoData({ value, onChange }: { value: string | null; onChange: (no_data: string | null) => void }) {
  const usual = useQuery(startingQuery).data?.no_data ?? ''
  return (
    <Labelled label="No data">
      <ColourField short label="Colour of no data" value={value ?? usual} onChange={onChange} />
      <Check label="drawn" checked={value !== null} onChange={(on) => onChange(on ? usual : null)} />
    </Labelled>
  )
}
