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

/** So many bytes that nobody asked for are read rather than asking twice. */
const GAP = 1024

interface Wanted {
  offset: number
  end: number
  give: (data: Promise<ArrayBuffer>) => void
}

/**
 * A file that is read in parts where its host serves ranges (RFC 9110, section 14), and whole, once, where it does not.
 *
 * What is asked for at once and lies side by side comes in one piece.
 */
export class RangedFile {
  private whole: Promise<ArrayBuffer> | null = null
  private first: Promise<unknown> | null = null
  private wanted: Wanted[] = []

  constructor(readonly address: string) {}

  async read(offset: number, length: number): Promise<ArrayBuffer> {
    if (!this.first) {
      const asked = this.ask(offset, length)
      this.first = asked.catch(() => undefined)
      return asked
    }
    // Only the first answer tells whether there are ranges: until then nothing else is asked.
    await this.first
    if (this.whole) return (await this.whole).slice(offset, offset + length)
    return new Promise((give) => {
      this.wanted.push({ offset, end: offset + length, give })
      if (this.wanted.length === 1) setTimeout(() => this.askTogether())
    })
  }

  async length(): Promise<number> {
    if (this.whole) return (await this.whole).byteLength
    const answer = await fetch(this.address, { method: 'HEAD' })
    return Number(answer.headers.get('Content-Length'))
  }

  private askTogether(): void {
    for (const piece of pieces(this.wanted.splice(0))) {
      const offset = Math.min(...piece.map((each) => each.offset))
      const data = this.ask(offset, Math.max(...piece.map(({ end }) => end)) - offset)
      for (const each of piece) each.give(data.then((all) => all.slice(each.offset - offset, each.end - offset)))
    }
  }

  private async ask(offset: number, length: number): Promise<ArrayBuffer> {
    const answer = await fetch(this.address, { headers: { Range: `bytes=${offset}-${offset + length - 1}` } })
    if (!answer.ok) throw new Error(`${this.address}: ${answer.status}`)
    if (answer.status === 206) return answer.arrayBuffer()
    this.whole ??= answer.arrayBuffer()
    return (await this.whole).slice(offset, offset + length)
  }
}

/** What is wanted, by pieces of the file in which it lies side by side. */
function pieces(wanted: Wanted[]): Wanted[][] {
  const out: Wanted[][] = []
  let reached = -Infinity
  for (const each of wanted.sort((a, b) => a.offset - b.offset)) {
    if (each.offset > reached + GAP) out.push([])
    out.at(-1)?.push(each)
    reached = Math.max(reached, each.end)
  }
  return out
}
