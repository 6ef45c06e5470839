import { useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import { answered, client } from '../api/client'
import { Labelled } from '../bench/Labelled'
import { layerOfLook, takenBefore } from '../sheet/looks'
import { layerOf, useSheet } from '../sheet/store'
import { changeClassing, classingOf } from './classing'

/** How many classes suit the numbers, with the reason; where they are as many already, nothing. */
export function SuggestedCount(props: { layerId: string; classes: number; byHand: boolean }) {
  const { layerId, classes, byHand } = props
  const ruleId = useSheet((s) => s.ruleId)
  const whole = layerOf(layerId)
  const layer = whole && layerOfLook(whole, ruleId)
  const classing = classingOf(whole)
  const body = layer &&
    classing && {
      dataset: layer.dataset,
      field: classing.field,
      normalise: classing.normalise ?? null,
      filter: layer.filter,
      without: takenBefore(layer),
      reading: layer.reading ?? null,
    }
  const { data } = useQuery({
    queryKey: ['suggested', body],
    queryFn: () => answered(client.POST('/api/draw/suggested-classes', { body: body ?? ({} as never) })),
    enabled: body !== null && !byHand,
    staleTime: Infinity,
    retry: false,
  })
  if (!data || byHand || data.classes === classes) return null
  return (
    <Labelled label="">
      <Button
        size="small"
        title={data.because}
        onClick={() => changeClassing(layerId, 'classes', (c) => void (c.classes = data.classes))}
      >
        {data.classes} suggested
      </Button>
    </Labelled>
  )
}
