import { unzipSync } from 'fflate'
import { describe, expect, it } from 'vitest'
import { withShapefilesPacked } from './shapefileParts'

const file = (name: string, text = name) => new File([text], name)
const names = (files: File[]) => files.map(({ name }) => name)
const held = async (packed: File | undefined) => unzipSync(new Uint8Array((await packed?.arrayBuffer()) ?? []))

describe('parts of a Shapefile that come together', () => {
  it('go as one zip, beside the other files', async () => {
    const sent = await withShapefilesPacked(
      ['peat.shp', 'peat.shx', 'peat.dbf', 'peat.prj', 'wells.csv'].map((n) => file(n)),
    )
    expect(names(sent)).toEqual(['wells.csv', 'peat.zip'])
    const inside = await held(sent[1])
    expect(Object.keys(inside).sort()).toEqual(['peat.dbf', 'peat.prj', 'peat.shp', 'peat.shx'])
    expect(new TextDecoder().decode(inside['peat.dbf'])).toBe('peat.dbf')
  })

  it('are known by their names in any case, and leave behind what other programs put there', async () => {
    const sent = await withShapefilesPacked(
      ['PEAT.SHP', 'peat.Shx', 'Peat.DBF', 'peat.sbn', 'peat.shp.xml'].map((n) => file(n)),
    )
    expect(names(sent)).toEqual(['PEAT.zip'])
    expect(Object.keys(await held(sent[0])).sort()).toEqual(['PEAT.dbf', 'PEAT.shp', 'PEAT.shx'])
  })

  it('of two are two', async () => {
    const sent = await withShapefilesPacked(['a.shp', 'b.shp', 'a.dbf', 'b.dbf'].map((n) => file(n)))
    expect(names(sent)).toEqual(['a.zip', 'b.zip'])
  })

  it('stay as they are without a main file', async () => {
    expect(names(await withShapefilesPacked([file('peat.dbf'), file('x.xml')]))).toEqual(['peat.dbf', 'x.xml'])
  })
})
