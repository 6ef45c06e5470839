import { afterEach, describe, expect, it, vi } from 'vitest'
import { RangedFile } from './archive'

const BYTES = new Uint8Array([0, 1, 2, 3, 4, 5, 6, 7])
afterEach(() => void vi.unstubAllGlobals())

/** A host with one file that serves ranges or does not; tells which were asked for. */
function host(ranges: boolean): string[] {
  const asked: string[] = []
  vi.stubGlobal('fetch', (_: string, { headers }: { headers: { Range: string } }) => {
    asked.push(headers.Range)
    const [from = 0, to = 0] = (/(\d+)-(\d+)/.exec(headers.Range) ?? []).slice(1).map(Number)
    const body = ranges ? BYTES.slice(from, to + 1) : BYTES
    return Promise.resolve(new Response(body, { status: ranges ? 206 : 200 }))
  })
  return asked
}

describe('a file of an edition', () => {
  it('is read in parts where its host serves them', async () => {
    const asked = host(true)
    const file = new RangedFile('live/shapes.pmtiles')
    expect([...new Uint8Array(await file.read(2, 3))]).toEqual([2, 3, 4])
    expect([...new Uint8Array(await file.read(0, 1))]).toEqual([0])
    expect(asked).toEqual(['bytes=2-4', 'bytes=0-0'])
  })

  it('comes in one piece where parts lie side by side and are asked for at once', async () => {
    const asked = host(true)
    const file = new RangedFile('live/shapes.pmtiles')
    await file.read(0, 1)
    const parts = await Promise.all([file.read(5, 2), file.read(1, 2), file.read(3, 1), file.read(1, 1)])
    expect(parts.map((part) => [...new Uint8Array(part)])).toEqual([[5, 6], [1, 2], [3], [1]])
    expect(asked).toEqual(['bytes=0-0', 'bytes=1-6'])
  })

  it('is asked for in two parts where more lies between them than is worth reading', async () => {
    const asked = host(true)
    const file = new RangedFile('live/shapes.pmtiles')
    await file.read(0, 1)
    await Promise.all([file.read(1, 2), file.read(2000, 2)])
    expect(asked.slice(1)).toEqual(['bytes=1-2', 'bytes=2000-2001'])
  })

  it('tells each who asked of a part that can no longer be had', async () => {
    host(true)
    const file = new RangedFile('live/shapes.pmtiles')
    await file.read(0, 1)
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(null, { status: 503 })))
    const outcomes = await Promise.allSettled([file.read(1, 1), file.read(2, 1)])
    expect(outcomes.map(({ status }) => status)).toEqual(['rejected', 'rejected'])
  })

  it('is read whole, and once, where it does not', async () => {
    const asked = host(false)
    const file = new RangedFile('live/shapes.pmtiles')
    const [first, second] = await Promise.all([file.read(2, 3), file.read(6, 2)])
    expect([...new Uint8Array(first)]).toEqual([2, 3, 4])
    expect([...new Uint8Array(second)]).toEqual([6, 7])
    expect(asked).toHaveLength(1)
  })

  it('that is not there says so', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(null, { status: 404 })))
    await expect(new RangedFile('nowhere').read(0, 1)).rejects.toThrow('nowhere: 404')
  })
})
