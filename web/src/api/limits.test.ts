import { expect, it } from 'vitest'
// @ts-expect-error a script without types
import { written } from '../../writeLimits.js'
import openapi from '../../openapi.json?raw'
import limits from './generated/limits.ts?raw'

it('has the limits that the description of the API has: run machine/openapi.sh', () => {
  expect(limits).toBe(written(JSON.parse(openapi)))
})

it('takes those of what may be nothing, and leaves out what has none', () => {
  const bounded = { anyOf: [{ type: 'integer', minimum: 4, exclusiveMaximum: 9 }, { type: 'null' }] }
  const schemas = {
    Line: { properties: { wrap: bounded, text: { type: 'string' }, stops: { maxItems: 3 } } },
    Plain: {},
  }
  expect(written({ components: { schemas } }).split('\n\n')[1]).toBe(
    'export const Line = {\n  wrap: { least: 4, below: 9, whole: true },\n  stops: { most: 3 },\n} as const\n',
  )
})
