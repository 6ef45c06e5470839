import { replaceEqualDeep } from '@tanstack/react-query'
import { create } from 'zustand'
import { answered, client, Refused } from '../api/client'
import type { Layer, Sheet } from '../api/types'

export const STAGES = ['gather', 'classify', 'draw', 'letter', 'explain', 'proof', 'publish'] as const
export type Stage = (typeof STAGES)[number]

const KEEP_AFTER = 350
const SAME_EDIT = 900
const AGAIN_AFTER = 3000

interface Step {
  document: Sheet
  tag: string
  at: number
}

interface SheetState {
  id: string | null
  revision: number
  document: Sheet | null
  past: Step[]
  future: Step[]
  /** Before what this window changed, the server still has the revisions below this one. */
  older: number
  keptAt: number | null
  saving: boolean
  /** Something was changed that the server has not kept yet. */
  unkept: boolean
  trouble: string | null
  stale: { revision: number; document: Sheet } | null
  /** Whose sheet it is that may only be looked at; null where it may be changed. */
  lookingAt: string | null
  stage: Stage
  layerId: string | null
  /** The rule of the chosen layer whose look is being edited; null: the layer's own. */
  ruleId: string | null
  /** The chosen feature: of the chosen layer's dataset, or of another whose table is open. */
  fid: number | null
  /** More features of that dataset, chosen besides. */
  also: number[]
  /** The dataset of the chosen features where it is not that of the chosen layer. */
  of: string | null
  /** The quarter of a zoom level at which the map is seen, for which labels are placed. */
  level: number
  /** West, south, east and north of what is seen, rounded out, in units of the map. */
  seen: readonly number[]
  open: (id: string, revision: number, document: Sheet, lookingAt?: string | null) => void
  /** Change the document. Edits with the same tag in quick succession undo as one. */
  edit: (tag: string, change: (draft: Sheet) => void) => void
  editLayer: (id: string, tag: string, change: (draft: Layer) => void) => void
  undo: () => void
  redo: () => void
  show: (stage: Stage) => void
  choose: (layerId: string | null, fid?: number | null) => void
  /** Choose rows of a dataset, drawn or not; none lets go of them. */
  chooseRows: (dataset: string, fids: readonly number[]) => void
  /** Choose one more feature of the chosen layer, or let go of it. */
  chooseToo: (fid: number) => void
  chooseRule: (ruleId: string | null) => void
  takeTheirs: () => void
  keepMine: () => void
  flush: () => Promise<void>
}

let timer: ReturnType<typeof setTimeout> | undefined
let running: Promise<void> | null = null

export const useSheet = create<SheetState>((set, get) => {
  function changed(document: Sheet, past: Step[], future: Step[]) {
    set({ document, past, future, unkept: true })
    clearTimeout(timer)
    timer = setTimeout(() => void get().flush(), KEEP_AFTER)
  }

  async function keep(): Promise<void> {
    const { id, document, revision, stale, unkept } = get()
    if (!id || !document || stale || !unkept) return
    set({ saving: true })
    try {
      const kept = await answered(
        client.PUT('/api/sheets/{sheet_id}', {
          params: { path: { sheet_id: id } },
          body: { base: revision, document },
        }),
      )
      set({
        revision: kept.revision,
        keptAt: Date.now(),
        saving: false,
        trouble: null,
        unkept: get().document !== document,
      })
    } catch (error) {
      set({ saving: false })
      if (error instanceof Refused && error.status === 409) {
        const theirs = error.body as { revision: number; document: Sheet }
        set({ stale: theirs, trouble: 'This sheet was changed elsewhere.' })
        return
      }
      set({ trouble: error instanceof Error ? error.message : String(error) })
      // The server, its database or the session is away: the change stays here and is sent again until it is kept.
      if (!(error instanceof Refused) || error.status === 0 || error.status === 401 || error.status >= 500)
        timer = setTimeout(() => void get().flush(), AGAIN_AFTER)
    }
  }

  return {
    id: null,
    revision: 0,
    document: null,
    past: [],
    future: [],
    older: 0,
    keptAt: null,
    saving: false,
    unkept: false,
    trouble: null,
    stale: null,
    lookingAt: null,
    stage: 'draw',
    layerId: null,
    ruleId: null,
    fid: null,
    also: [],
    of: null,
    level: 0,
    seen: [],
    open: (id, revision, document, lookingAt = null) =>
      set({
        lookingAt,
        id,
        revision,
        document,
        past: [],
        future: [],
        older: revision,
        keptAt: Date.now(),
        unkept: false,
        trouble: null,
        stale: null,
        layerId: document.layers[0]?.id ?? null,
        ruleId: null,
        fid: null,
        also: [],
        of: null,
      }),
    edit: (tag, change) => {
      const { document: was, past, lookingAt } = get()
      if (!was || lookingAt) return
      const draft = structuredClone(was)
      change(draft)
      // What is as it was stays the same object, so that what shows it is not drawn again.
      const document = replaceEqualDeep(was, draft)
      if (document === was) return
      const now = Date.now()
      const last = past.at(-1)
      const joins = last && last.tag === tag && now - last.at < SAME_EDIT
      const next = joins
        ? [...past.slice(0, -1), { ...last, at: now }]
        : [...past.slice(-199), { document: was, tag, at: now }]
      changed(document, next, [])
    },
    editLayer: (id, tag, change) =>
      get().edit(`${tag}:${id}`, (draft) => {
        const layer = draft.layers.find((candidate) => candidate.id === id)
        if (layer) change(layer)
      }),
    undo: () => {
      const { document, past, future, id, older, lookingAt } = get()
      const last = past.at(-1)
      if (!document || !id || lookingAt) return
      if (last) {
        changed(last.document, past.slice(0, -1), [{ document, tag: last.tag, at: 0 }, ...future])
      } else if (older > 1) {
        set({ older: older - 1 })
        const path = { sheet_id: id, number: older - 1 }
        answered(client.GET('/api/sheets/{sheet_id}/revisions/{number}', { params: { path } }))
          .then((was) => changed(was.document, [], [{ document, tag: 'revision', at: 0 }, ...future]))
          .catch((error: Error) => set({ older, trouble: error.message }))
      }
    },
    redo: () => {
      const { document, past, future } = get()
      const next = future[0]
      if (next && document) changed(next.document, [...past, { document, tag: next.tag, at: 0 }], future.slice(1))
    },
    show: (stage) => set({ stage }),
    choose: (layerId, fid = null) =>
      set({ ...(layerId === get().layerId ? {} : { layerId, ruleId: null }), fid, also: [], of: null }),
    chooseRows: (dataset, [fid = null, ...also]) =>
      set({ fid, also, of: dataset === layerOf(get().layerId)?.dataset ? null : dataset }),
    chooseToo: (chosen) => {
      const { fid, also, of } = get()
      if (of !== null) set({ fid: chosen, also: [], of: null })
      else if (fid === null) set({ fid: chosen })
      else if (chosen === fid) set({ fid: also[0] ?? null, also: also.slice(1) })
      else set({ also: also.includes(chosen) ? also.filter((each) => each !== chosen) : [...also, chosen] })
    },
    chooseRule: (ruleId) => set({ ruleId }),
    takeTheirs: () => {
      const { stale, id } = get()
      if (stale && id) get().open(id, stale.revision, stale.document)
    },
    keepMine: () => {
      const { stale } = get()
      if (!stale) return
      set({ stale: null, revision: stale.revision, trouble: null })
      void get().flush()
    },
    // Saves run one after the other, so that each names the revision that the one before it made.
    flush: async () => {
      clearTimeout(timer)
      while (running) await running
      running = keep().finally(() => {
        running = null
      })
      await running
    },
  }
})

/** A layer as it stands now, or null. */
export function layerOf(id: string | null): Layer | null {
  return useSheet.getState().document?.layers.find((layer) => layer.id === id) ?? null
}

/** The chosen layer, or null. */
export function useChosenLayer(): Layer | null {
  return useSheet((s) => s.document?.layers.find((layer) => layer.id === s.layerId) ?? null)
}

const NO_FIDS: number[] = []

/** Of which dataset the chosen features are. */
const datasetOfChosen = ({ of, document, layerId }: SheetState) =>
  of ?? document?.layers.find((layer) => layer.id === layerId)?.dataset ?? null

export function useDatasetOfChosen(): string | null {
  return useSheet(datasetOfChosen)
}

/** The chosen features of a dataset: none where those that are chosen are another's. */
export function useChosenIn(dataset: string | undefined): { fid: number | null; also: number[] } {
  const fid = useSheet((s) => (datasetOfChosen(s) === dataset ? s.fid : null))
  const also = useSheet((s) => (datasetOfChosen(s) === dataset ? s.also : NO_FIDS))
  return { fid, also }
}
