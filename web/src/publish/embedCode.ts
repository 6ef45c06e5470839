/** HTML for a page elsewhere. It stays the same when the map is improved: the address shows the current edition. */
export function embedCode(
  address: string,
  width: number,
  height: number,
  view: { lon: number; lat: number; zoom: number; x: number; y: number; round: boolean } | null,
): string {
  // Readers' pages know no projection but the web's: of a map in another, a place is said in the map's own units.
  const here = view && (view.round ? `#${view.zoom}/${view.lat}/${view.lon}` : `#${view.zoom}@${view.x},${view.y}`)
  const place = here ?? ''
  return `<iframe src="${address}${place}" width="${width}" height="${height}" style="border:0" loading="lazy" title="Map"></iframe>`
}
