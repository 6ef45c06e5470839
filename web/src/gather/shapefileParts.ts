import { zipSync } from 'fflate'

const PARTS = /\.(shp|shx|dbf|prj|cpg)$/i
/** What GIS programs put beside them, and nobody means by itself. */
const BESIDE = /\.(shp\.xml|sbn|sbx|qix|qpj|qmd)$/i

/**
 * Files as they were chosen, but for the parts of Shapefiles: those of one name that come together go as one zip, as they are sent by others.
 *
 * A part whose `.shp` is not among them stays as it is, and is refused in words.
 */
export async function withShapefilesPacked(files: readonly File[]): Promise<File[]> {
  const names = new Set(files.filter(({ name }) => /\.shp$/i.test(name)).map(({ name }) => stemOf(name)))
  const belongs = ({ name }: File) => (PARTS.test(name) || BESIDE.test(name)) && names.has(stemOf(name))
  const packed = await Promise.all(
    [...names].map(async (stem) => {
      const parts = files.filter((file) => PARTS.test(file.name) && stemOf(file.name) === stem)
      const main = parts.find(({ name }) => /\.shp$/i.test(name))
      const named = main ? main.name.slice(0, -4) : stem
      const contents = await Promise.all(
        parts.map(
          async (part) =>
            [`${named}${endingOf(part.name)}`, [new Uint8Array(await part.arrayBuffer()), { level: 0 }]] as const,
        ),
      )
      return new File([zipSync(Object.fromEntries(contents) as Parameters<typeof zipSync>[0])], `${named}.zip`)
    }),
  )
  return [...files.filter((file) => !belongs(file)), ...packed]
}

const stemOf = (name: string) => name.replace(BESIDE, '').replace(PARTS, '').toLowerCase()

const endingOf = (name: string) => name.slice(name.lastIndexOf('.')).toLowerCase()
