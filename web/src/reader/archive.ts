import { PMTiles } from 'pmtiles'

/** Tiles that are read out of one file. */
export interface TileArchive {
  /** The contents of a tile; null where there is none. */
  tile: (z: number, x: number, y: number) => Promise<ArrayBuffer | null>
}

/** The tiles of an archive: PMTiles, or a zipped folder of tiles with that ending. */
export function openArchive(address: string, ending: string): TileArchive {
  const file = new RangedFile(address)
  if (address.endsWith('.zip')) return zipped(file, ending)
  const tiles = new PMTiles({
    getKey: () => address,
    getBytes: async (offset, length) => ({ data: await file.read(offset, length) }),
  })
  // Its head is there when the first tile is asked for; whether it can be had is told then.
  void tiles.getHeader().catch(() => undefined)
  return { tile: async (z, x, y) => (await tiles.getZxy(z, x, y))?.data ?? null }
}

function zipped(file: RangedFile, ending: string): TileArchive {
  // Only maps outside the web's own projection have their tiles in zips.
  const opened = import('unzipit').then(({ unzip }) =>
    unzip({
      getLength: () => file.length(),
      read: async (offset: number, length: number) => new Uint8Array(await file.read(offset, length)),
    }),
  )
  return {
    tile: async (z, x, y) => {
      const { entries } = await opened
      return (await entries[`${z}/${x}/${y}.${ending}`]?.arrayBuffer()) ?? null
    },
  }
}

/** A file that is read in parts where its host serves ranges (RFC 9110, section 14), and whole, once, where it does not. */
export class RangedFile {
  private whole: Promise<ArrayBuffer> | null = null
  private first: Promise<unknown> | null = null

  constructor(readonly address: string) {}

  async read(offset: number, length: number): Promise<ArrayBuffer> {
    if (!this.first) {
      const asked = this.ask(offset, length)
      this.first = asked.catch(() => undefined)
      return asked
    }
    // Only the first answer tells whether there are ranges: until then nothing else is asked.
    await this.first
    return this.whole ? (await this.whole).slice(offset, offset + length) : this.ask(offset, length)
  }

  async length(): Promise<number> {
    if (this.whole) return (await this.whole).byteLength
    const answer = await fetch(this.address, { method: 'HEAD' })
    return Number(answer.headers.get('Content-Length'))
  }

  private async ask(offset: number, length: number): Promise<ArrayBuffer> {
    const answer = await fetch(this.address, { headers: { Range: `bytes=${offset}-${offset + length - 1}` } })
    if (!answer.ok) throw new Error(`${this.address}: ${answer.status}`)
    if (answer.status === 206) return answer.arrayBuffer()
    this.whole ??= answer.arrayBuffer()
    return (await this.whole).slice(offset, offset + length)
  }
}
