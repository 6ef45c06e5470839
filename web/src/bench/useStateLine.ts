import type { Layer } from '../api/types'
import { METHOD_WORDS } from '../classify/words'
import { counted, sizeOf } from '../wording'
import { useFindings } from '../proof/queries'
import { useEditions } from '../publish/queries'
import { levelBelow } from '../sheet/levels'
import { useDataset, useInk, useLetters } from '../sheet/queries'
import { type Stage, useSheet } from '../sheet/store'

/** One line that says where the chosen layer and stage stand, also while the bench is folded. */
export function useStateLine(stage: Stage, layer: Layer | null): string {
  const document = useSheet((s) => s.document)
  const sheetId = useSheet((s) => s.id)
  const level = useSheet((s) => s.level)
  const seen = useSheet((s) => s.seen)
  const dataset = useDataset(layer?.dataset)
  const ink = useInk(layer)
  // Those that the map shows: a label that is moved is waited for, and nothing else is asked beside it.
  const letters = useLetters(stage === 'letter' ? document : null, level, seen)
  const findings = useFindings().data ?? []
  const editions = useEditions(stage === 'publish' ? sheetId : null).data
  if (stage === 'proof')
    return findings.length === 0
      ? 'nothing to look at'
      : `${findings.filter((f) => !f.accepted).length} to look at, ${findings.filter((f) => f.accepted).length} accepted`
  if (stage === 'publish')
    return editions?.address
      ? `${counted(editions.editions.length, 'edition')} at ${editions.address}`
      : 'not published yet'
  if (!layer) return document?.layers.length ? 'choose a layer in the key' : 'no layer yet'
  if (ink.error) return ink.error.message
  if (stage === 'gather') return dataset ? `${dataset.kind} · ${sizeOf(dataset)} · ${dataset.crs}` : ''
  if (stage === 'letter') {
    if (!layer.lettering) return 'no labels'
    if (!letters.data) return `labels '${layer.lettering.lines[0]?.text}' · being placed`
    const out = letters.data?.left_out[layer.id]?.length ?? 0
    return `labels '${layer.lettering.lines[0]?.text}' · ${out} left out at level ${levelBelow(level)}`
  }
  const header = ink.data?.header
  if (header?.method) {
    const fit = header.fit === null ? '' : ` · fit ${header.fit.toFixed(2)}`
    return `${METHOD_WORDS[header.method].toLowerCase()} · ${counted(header.classes.length, 'class', 'classes')}${fit} · ${header.missing.toLocaleString('en')} missing`
  }
  if (!header) return ''
  if (layer.symbology.kind === 'heat' || layer.symbology.kind === 'clusters') return 'all points together'
  return header.kind === 'raster' ? 'raster' : `${header.drawn.toLocaleString('en')} drawn`
}
