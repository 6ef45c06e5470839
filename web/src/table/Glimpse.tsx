import { useQuery } from '@tanstack/react-query'
import { useTheme } from '@mui/material/styles'
import { answered, client } from '../api/client'
import type { Dataset, FieldSummary } from '../api/types'
import { Bars } from '../bench/Bars'

const WIDTH = 112
const HEIGHT = 16
/** Rows up to which the heads of columns show how their values are spread without being asked. */
const AT_ONCE = 2_000_000

/** The fields of a dataset at a glance, by name. */
export function useSummary(dataset: Dataset): Map<string, FieldSummary> {
  const { data } = useQuery({
    queryKey: ['summary', dataset.id, dataset.revision],
    queryFn: () =>
      answered(client.GET('/api/datasets/{dataset_id}/summary', { params: { path: { dataset_id: dataset.id } } })),
    enabled: dataset.rows <= AT_ONCE,
    staleTime: Infinity,
    placeholderData: (before) => before,
  })
  return new Map(data?.map((field) => [field.name, field]))
}

/** How the values of a field are spread, in the head of its column. */
export function Glimpse({ field }: { field: FieldSummary }) {
  const { palette } = useTheme()
  if (field.bars.length === 0)
    return (
      <span
        style={{
          fontSize: 11,
          fontWeight: 400,
          color: palette.text.secondary,
          whiteSpace: 'nowrap',
          overflow: 'hidden',
        }}
      >
        {field.different.toLocaleString('en')} different
      </span>
    )
  return <Bars bars={field.bars} width={WIDTH} height={HEIGHT} colour={palette.text.secondary} opacity={0.55} />
}

/** The same in words. */
export function inWords(field: FieldSummary): string {
  const known = `${field.filled.toLocaleString('en')} filled, ${field.different.toLocaleString('en')} different`
  if (field.low) return `${known}\n${field.low} to ${field.high}${field.mean ? `, mean ${field.mean}` : ''}`
  return [known, ...field.commonest.map(({ value, rows }) => `${value}: ${rows.toLocaleString('en')}`)].join('\n')
}
