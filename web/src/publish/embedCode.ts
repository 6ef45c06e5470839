import type { PagePart } from '../reader/address'

export interface Embedded {
  width: number
  height: number
  /** As wide as there is room on the page around it, in the same proportions. */
  fits: boolean
  view: { lon: number; lat: number; zoom: number; x: number; y: number; round: boolean } | null
  without: readonly PagePart[]
  /** An address of the page, as its readers send it: where it opens, and what is chosen there. */
  like?: string
}

const PLACE = /^[-+\d.e/@,]*$/

/** HTML for a page elsewhere. It stays the same when the map is improved: the address shows the current edition. */
export function embedCode(address: string, { width, height, fits, view, without, like = '' }: Embedded): string {
  // Readers' pages know no projection but the web's: of a map in another, a place is said in the map's own units.
  const here = view && (view.round ? `#${view.zoom}/${view.lat}/${view.lon}` : `#${view.zoom}@${view.x},${view.y}`)
  const [place = '', chosen = ''] = (like.split('#')[1] ?? '').split('?')
  const there = here ?? (place && PLACE.test(place) ? `#${place}` : null)
  const words = new URLSearchParams(chosen)
  words.delete('without')
  const said = [words.toString(), without.length > 0 ? `without=${without.join()}` : ''].filter(Boolean).join('&')
  const asked = said ? `${there ? '' : '#'}?${said}` : ''
  const style = fits
    ? `border:0;width:100%;max-width:${width}px;height:auto;aspect-ratio:${width}/${height}`
    : 'border:0'
  // In HTML an ampersand begins a sign of its own: '&copy' would be ©.
  const from = `${address}${there ?? ''}${asked}`.replaceAll('&', '&amp;')
  return `<iframe src="${from}" width="${width}" height="${height}" style="${style}" loading="lazy" title="Map"></iframe>`
}
