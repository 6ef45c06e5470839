import { describe, expect, it } from 'vitest'
import type { Dataset } from '../api/types'
import { ranked } from './ranking'

const made = (title: string, values: Partial<Dataset> = {}) =>
  ({
    title,
    kind: 'areas',
    source: '',
    credit: '',
    crs: '',
    file_name: '',
    fields: [],
    ...values,
  }) as unknown as Dataset
const field = (name: string) => [{ name }] as unknown as Dataset['fields']
const titles = (datasets: Dataset[]) => datasets.map(({ title }) => title)

describe('searching the library', () => {
  it('puts a title above a field, and a field above a stray mention', () => {
    const library = [
      made('Returns', { source: 'From the peat survey' }),
      made('Catchments', { fields: field('peat_ha') }),
      made('Depth of peat'),
      made('Peat'),
      made('Peat slips'),
    ]
    expect(titles(ranked(library, 'peat'))).toEqual(['Peat', 'Peat slips', 'Depth of peat', 'Catchments', 'Returns'])
  })

  it('wants every word, whatever its case and accents', () => {
    const library = [made('Höhe der Moore'), made('Moore')]
    expect(titles(ranked(library, 'hohe MOORE'))).toEqual(['Höhe der Moore'])
    expect(titles(ranked(library, ''))).toEqual(['Höhe der Moore', 'Moore'])
    expect(titles(ranked([...library, made('Moore too', { kind: 'raster' })], 'moore', 'raster'))).toEqual([
      'Moore too',
    ])
  })
})
