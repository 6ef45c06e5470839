import { describe, expect, it } from 'vitest'
import type { Dataset } from '../api/types'
import { choices, ranked } from './ranking'

const made = (title: string, values: Partial<Dataset> = {}) =>
  ({
    title,
    kind: 'areas',
    source: '',
    credit: '',
    crs: '',
    file_name: '',
    licence: '',
    owner: 'isla',
    vetted: null,
    bounds: null,
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
    expect(titles(ranked([...library, made('Moore too', { kind: 'raster' })], 'moore', { kind: 'raster' }))).toEqual([
      'Moore too',
    ])
  })

  it('asks for the owner, terms, what is vetted and the place', () => {
    const library = [
      made('Wells', { owner: 'brann', licence: 'CC BY 4.0', bounds: [-27, 52, -26, 53] }),
      made('Huts', { vetted: '2026-05-01T10:00:00Z', bounds: [10, 52, 11, 53] }),
      made('Names', { licence: 'CC0' }),
    ]
    expect(choices(library, 'owner')).toEqual(['brann', 'isla'])
    expect(choices(library, 'licence')).toEqual(['CC BY 4.0', 'CC0'])
    expect(titles(ranked(library, '', { owner: 'isla' }))).toEqual(['Huts', 'Names'])
    expect(titles(ranked(library, '', { licence: 'CC0' }))).toEqual(['Names'])
    expect(titles(ranked(library, '', { vetted: true }))).toEqual(['Huts'])
    expect(titles(ranked(library, '', { place: [-26.5, 51, -25, 52.5] }))).toEqual(['Wells'])
    expect(titles(ranked(library, 'brann'))).toEqual(['Wells'])
  })
})
