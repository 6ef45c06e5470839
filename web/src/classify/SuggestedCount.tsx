import { useQuery } from '@tanstack/react-query'
import Button from '@mui/material/Button'
import { answered, client } from '../api/client'
import { Labelled } from '../bench/Labelled'
import { layerOfLook } from '../sheet/looks'
import { layerOf, useSheet } from '../sheet/store'
import { changeLimits } from './classing'
import { numbersOf } from './numbers'
import { ALL } from './part'

/** How many classes suit the numbers, with the reason; where they are as many already, nothing. */
export function SuggestedCount(props: { layerId: string; classes: number; byHand: boolean }) {
  const { layerId, classes, byHand } = props
  const ruleId = useSheet((s) => s.ruleId)
  const whole = layerOf(layerId)
  const layer = whole && layerOfLook(whole, ruleId)
  const numbers = layer && numbersOf(layer)
  const body = numbers && { ...numbers, ...ALL }
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
        onClick={() => changeLimits(layerId, 'classes', (l) => void (l.classes = data.classes))}
      >
        {data.classes} suggested
      </Button>
    </Labelled>
  )
}
