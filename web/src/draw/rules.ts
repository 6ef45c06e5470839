import { answered, client } from '../api/client'
import type { Layer, Rule } from '../api/types'
import { symbolsOf } from '../sheet/looks'
import { rowsOf } from '../sheet/read'
import { useSheet } from '../sheet/store'

/** Change the rules of a layer. */
export function changeRules(layerId: string, tag: string, change: (rules: Rule[]) => Rule[]): void {
  useSheet.getState().editLayer(layerId, `rules-${tag}`, (draft) => {
    const symbols = symbolsOf(draft)
    if (symbols) symbols.rules = change(symbols.rules)
  })
}

/** Let conditions of a layer name the shapes of another dataset. */
export function nameDataset(layerId: string, name: string, dataset: string): void {
  useSheet.getState().editLayer(layerId, `others-${name}`, (draft) => void (draft.others[name] = dataset))
}

/** A new rule before all others, for features that were chosen on the map or in the table, or for none until its condition is written. */
export async function addRule(layer: Layer, fids: number[] = []): Promise<void> {
  const symbology = symbolsOf(layer)
  if (!symbology) return
  const rule = await answered(client.POST('/api/draw/rule', { body: { ...rowsOf(layer), symbology, fids } }))
  changeRules(layer.id, 'add', (all) => [rule, ...all])
  useSheet.getState().chooseRule(rule.id)
}

/** The rules of a layer, before those of another layer, whose ids stay apart. */
export function copyRules(from: Layer, layerId: string): void {
  const rules = symbolsOf(from)?.rules ?? []
  Object.entries(from.others).forEach(([name, dataset]) => nameDataset(layerId, name, dataset))
  changeRules(layerId, 'copy', (own) => {
    const taken = new Set(own.map((rule) => rule.id))
    const copies = rules.map((rule) => {
      let id = rule.id
      for (let n = 2; taken.has(id); n++) id = `${rule.id}-${n}`
      taken.add(id)
      return { ...structuredClone(rule), id }
    })
    return [...copies, ...own]
  })
}

/** A rule for each entry of the layer's key, each looking as that entry does. */
export async function splitIntoRules(layer: Layer): Promise<void> {
  const symbols = symbolsOf(layer)
  if (!symbols) return
  const split = await answered(client.POST('/api/draw/split', { body: { ...rowsOf(layer), symbology: symbols } }))
  useSheet.getState().editLayer(layer.id, 'rules-split', (draft) => void (draft.symbology = split))
}

/** The condition of the rows that a rule takes: those that no active rule before it does. A condition that can't be said of a row,
 * since a value is missing, does not take it. */
export function taking(rules: Rule[], rule: Rule): string {
  const before = rules.slice(0, rules.indexOf(rule)).filter((each) => each.active)
  const all = (each: Rule) => each.where.trim() || '1 = 1'
  return [`(${all(rule)})`, ...before.map((each) => `(NOT (${all(each)}) OR (${all(each)}) IS NULL)`)].join(' AND ')
}

/** The same among all rows of the dataset, of which the layer may draw some only. */
export function takingOf(layer: Layer, rules: Rule[], rule: Rule): string {
  return [...(layer.filter.trim() ? [`(${layer.filter})`] : []), taking(rules, rule)].join(' AND ')
}
