/** HTML for a page elsewhere. It stays the same when the map is improved: the address shows the current edition. */
export function embedCode(
  address: string,
  width: number,
  height: number,
  view: { lon: number; lat: number; zoom: number } | null,
): string {
  const place = view ? `#${view.zoom}/${view.lat}/${view.lon}` : ''
  return `<iframe src="${address}${place}" width="${width}" height="${height}" style="border:0" loading="lazy" title="Map"></iframe>`
}
