import { create } from 'zustand'
import { answered, client } from '../api/client'

interface AttachingState {
  /** How often pictures were attached, described or taken away: what shows them asks anew. */
  changed: number
  busy: number
  troubles: string[]
}

/** Pictures being attached to features, wherever they were dropped. */
export const useAttaching = create<AttachingState>(() => ({ changed: 0, busy: 0, troubles: [] }))

export const picturesChanged = () => useAttaching.setState(({ changed }) => ({ changed: changed + 1 }))

/** To a feature, or to those whose value in a field is the file's name. */
export type To = { fid: number } | { field: string }

/** Attach pictures one after the other; what can't be attached is said, and the others go on. */
export async function attach(dataset: string, files: readonly File[], to: To, credit = ''): Promise<void> {
  useAttaching.setState({ busy: files.length, troubles: [] })
  for (const file of files) {
    const form = new FormData()
    form.append('file', file)
    if ('fid' in to) form.append('fid', String(to.fid))
    else form.append('field', to.field)
    form.append('credit', credit)
    try {
      await answered(
        client.POST('/api/datasets/{dataset_id}/pictures', {
          params: { path: { dataset_id: dataset } },
          body: form as never,
          bodySerializer: (body) => body,
        }),
      )
    } catch (error) {
      const words = (error as Error).message
      const said = words.includes(file.name) ? words : `${file.name}: ${words}`
      useAttaching.setState(({ troubles }) => ({ troubles: [...troubles, said] }))
    }
    useAttaching.setState(({ busy }) => ({ busy: busy - 1 }))
  }
  picturesChanged()
}

/** The pictures among what is dragged. */
export const droppedPictures = (transfer: DataTransfer | null): File[] =>
  [...(transfer?.files ?? [])].filter(({ type }) => /^image\/(png|jpeg|webp)$/.test(type))

/** Whether files are dragged: what they are is told only when they are let go. */
export const dragsFiles = (transfer: DataTransfer | null) => transfer?.types.includes('Files') ?? false
