// What numbers may be, and how long texts and lists, in the parts of a sheet and in what is asked of the server: taken from the API's description, so
// that no field repeats it.
import { readFileSync, writeFileSync } from 'node:fs'
import { pathToFileURL } from 'node:url'

const WORDS = {
  minimum: 'least',
  maximum: 'most',
  exclusiveMinimum: 'above',
  exclusiveMaximum: 'below',
  minItems: 'least',
  maxItems: 'most',
  maxLength: 'most',
}

/** The limits of what is described, also of what may be nothing; undefined where it has none. */
function limitsOf(described) {
  const choices = described.anyOf ?? [described]
  for (const choice of choices) {
    const said = Object.entries(WORDS).filter(([word]) => word in choice)
    if (said.length === 0) continue
    const whole = choice.type === 'integer' ? ['whole: true'] : []
    return `{ ${[...said.map(([word, ours]) => `${ours}: ${choice[word]}`), ...whole].join(', ')} }`
  }
}

/** TypeScript with a constant for each part that has any. */
export function written(openapi) {
  const parts = Object.entries(openapi.components.schemas).flatMap(([part, { properties = {} }]) => {
    const limited = Object.entries(properties).flatMap(([name, described]) => {
      const limits = limitsOf(described)
      return limits ? [`  ${name}: ${limits},`] : []
    })
    return limited.length ? [`export const ${part} = {\n${limited.join('\n')}\n} as const\n`] : []
  })
  return `/** Made by writeLimits.js from openapi.json. */\n\n${parts.join('\n')}`
}

if (import.meta.url === pathToFileURL(process.argv[1]).href)
  writeFileSync('src/api/generated/limits.ts', written(JSON.parse(readFileSync('openapi.json', 'utf8'))))
