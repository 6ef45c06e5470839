import type { PagePart } from '../reader/address'

export interface Embedded {
  width: number
  height: number
  /** As wide as there is room on the page around it, in the same proportions. */
  fits: boolean
  view: { lon: number; lat: number; zoom: number; x: number; y: number; round: boolean } | null
  without: readonly PagePart[]
}

/** HTML for a page elsewhere. It stays the same when the map is improved: the address shows the current edition. */
export function embedCode(address: string, { width, height, fits, view, without }: Embedded): string {
  // Readers' pages know no projection but the web's: of a map in another, a place is said in the map's own units.
  const here = view && (view.round ? `#${view.zoom}/${view.lat}/${view.lon}` : `#${view.zoom}@${view.x},${view.y}`)
  const asked = without.length > 0 ? `${here ? '' : '#'}?without=${without.join()}` : ''
  const style = fits
    ? `border:0;width:100%;max-width:${width}px;height:auto;aspect-ratio:${width}/${height}`
    : 'border:0'
  return `<iframe src="${address}${here ?? ''}${asked}" width="${width}" height="${height}" style="${style}" loading="lazy" title="Map"></iframe>`
}
