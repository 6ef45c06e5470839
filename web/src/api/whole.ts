/** For tests: parts of a sheet with what the API's description says by default, as the server writes them. */

import openapi from '../../openapi.json?raw'
import type { components } from './generated/schema'

type Schemas = components['schemas']
type Deep<T> = T extends object ? { [K in keyof T]?: Deep<T[K]> } : T
interface Described {
  $ref?: string
  type?: string
  allOf?: Described[]
  anyOf?: Described[]
  oneOf?: Described[]
  items?: Described
  properties?: Record<string, Described>
  default?: unknown
  const?: unknown
}
const described = (JSON.parse(openapi) as { components: { schemas: Record<string, Described> } }).components.schemas

/** A part of the kind with that name in the API, whole. */
export function whole<K extends keyof Schemas>(kind: K, part: Deep<Schemas[K]>): Schemas[K] {
  return filled({ $ref: `#/components/schemas/${kind}` }, part) as Schemas[K]
}

function filled(schema: Described, value: unknown): unknown {
  const { $ref, allOf, anyOf, oneOf, items, properties } = schema
  if ($ref) return filled(described[$ref.split('/').at(-1) ?? ''] ?? {}, value)
  if (allOf?.[0]) return filled(allOf[0], value)
  const choices = anyOf ?? oneOf
  if (choices) return value === null ? null : filled(choices.find((choice) => suits(choice, value)) ?? {}, value)
  if (Array.isArray(value)) return items ? value.map((item) => filled(items, item)) : value
  if (!properties || typeof value !== 'object' || value === null) return value
  const known = value as Record<string, unknown>
  const all = Object.entries(properties).map(([name, of]) => [
    name,
    filled(of, name in known ? known[name] : byDefault(of)),
  ])
  return Object.fromEntries(all.filter(([, held]) => held !== undefined))
}

/** What may be nothing is that by default, whether or not the description says so. */
function byDefault({ default: value, anyOf }: Described): unknown {
  return value === undefined && anyOf?.some(({ type }) => type === 'null') ? null : value
}

/** Whether a value may be of one of several kinds: they are told apart by `kind` or `by`. */
function suits(choice: Described, value: unknown): boolean {
  const of = choice.$ref ? (described[choice.$ref.split('/').at(-1) ?? ''] ?? {}) : choice
  if (typeof value !== 'object' || value === null) return !of.properties
  return Object.entries(of.properties ?? {}).every(
    ([name, { const: only }]) => only === undefined || (value as Record<string, unknown>)[name] === only,
  )
}
