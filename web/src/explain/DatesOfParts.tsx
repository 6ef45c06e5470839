import { useMutation, useQueries } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import { answered, client } from '../api/client'
import { useDatasets } from '../sheet/queries'
import { useTakeIn } from '../table/useTable'
import type { Asked } from './reader'

/** Offers to make a field of dates of those that hold their years, months and days. */
export function DatesOfParts({ asked, onMade }: { asked: Asked[]; onMade: (layer: string, field: string) => void }) {
  const takeIn = useTakeIn()
  const datasets = useDatasets()
  const own = asked
    .filter(({ layer }) => !layer.reading)
    .flatMap(({ layer }) => datasets.filter(({ id, may }) => id === layer.dataset && may.includes('change')))
  const answers = useQueries({
    queries: own.map(({ id, revision }) => ({
      queryKey: ['dates-of-parts', id, revision],
      queryFn: () =>
        answered(client.GET('/api/datasets/{dataset_id}/many/dates', { params: { path: { dataset_id: id } } })),
    })),
  })
  const at = answers.findIndex(({ data }) => data?.asked)
  const dataset = own[at]
  const calculate = answers[at]?.data?.asked
  const make = useMutation({
    mutationFn: (body: { asked: NonNullable<typeof calculate>; dataset: string }) =>
      answered(
        client.POST('/api/datasets/{dataset_id}/many', {
          params: { path: { dataset_id: body.dataset } },
          body: { asked: body.asked },
        }),
      ),
    onSuccess: (changed, { asked: { name } }) => {
      takeIn(changed)
      const layer = asked.find((each) => each.layer.dataset === changed.id)?.layer.id
      if (layer) onMade(layer, name)
    },
  })
  if (!dataset || !calculate) return null
  return (
    <>
      <Button
        variant="contained"
        disabled={make.isPending}
        onClick={() => make.mutate({ asked: calculate, dataset: dataset.id })}
        title={`A new field '${calculate.name}' of '${dataset.title}': ${calculate.expression}`}
      >
        {make.isPending ? 'Making dates …' : `Make dates of ${partsIn(calculate.expression)}`}
      </Button>
      {make.error && <span role="alert">{make.error.message}</span>}
    </>
  )
}

/** The fields that an expression names, as they are read out. */
function partsIn(expression: string): string {
  const names = [...expression.matchAll(/"([^"]+)"/g)].map(([, name]) => name)
  return new Intl.ListFormat('en-GB', { type: 'conjunction' }).format(names.filter((name) => name !== undefined))
}
