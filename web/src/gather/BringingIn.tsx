import { useEffect } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { answered, client } from '../api/client'
import { addLayer } from '../sheet/layerActions'
import { fitTo } from '../sheet/mapBridge'
import { changeUploads, type UploadState, useBringingIn } from './arriving'
import { useGather } from './gatherState'

/** Sees to it that what is being brought in is drawn as it was asked, whatever is looked at meanwhile. */
export function BringingIn() {
  const uploads = useGather((s) => s.uploads)
  // They were sent for this sheet.
  useEffect(() => () => useGather.setState({ uploads: [] }), [])
  return uploads.filter(({ job, done }) => job && !done).map((upload) => <Followed key={upload.job} upload={upload} />)
}

function Followed({ upload: { id, job, draw } }: { upload: UploadState }) {
  const queries = useQueryClient()
  const { data } = useBringingIn(job ?? null)
  const dataset = data?.state === 'done' ? String(data.result.dataset) : null
  useEffect(() => {
    if (dataset === null) return
    const settle = async () => {
      await queries.invalidateQueries({ queryKey: ['datasets'] })
      if (draw) await drawn(dataset)
      useGather.setState({ arrived: dataset })
    }
    void settle().finally(() =>
      changeUploads((before) => before.map((each) => (each.id === id ? { ...each, draw: false, done: true } : each))),
    )
    // Once, when it is there: that it is done ends this component.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [dataset])
  return null
}

/** Draw a dataset that has just come in, and show all of it. */
async function drawn(id: string): Promise<void> {
  const dataset = await answered(client.GET('/api/datasets/{dataset_id}', { params: { path: { dataset_id: id } } }))
  await addLayer(dataset)
  if (dataset.bounds) await fitTo(dataset.bounds)
}
