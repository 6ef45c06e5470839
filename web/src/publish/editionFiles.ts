const USES: [string, RegExp][] = [
  ['page', /^(index\.html|edition\.json|ground\.json|picture\.png)$/],
  ['whole map', /^(map|below)\./],
  ['layers as pictures', /^pictures-.*\.(pmtiles|zip)$/],
  ['vector tiles', /\.(pmtiles|zip)$/],
  ['features', /\.geojson$/],
  ['sheet', /^sheet\.json$/],
  ['descriptions', /./],
]

/** The files of an edition by what they are for; uses without a file are left out. */
export function filesByUse(files: string[]): [string, string[]][] {
  const byUse = new Map<string, string[]>(USES.map(([use]) => [use, []]))
  for (const file of files) {
    const use = USES.find(([, pattern]) => pattern.test(file))
    if (use) byUse.get(use[0])?.push(file)
  }
  return [...byUse].filter(([, names]) => names.length > 0)
}
