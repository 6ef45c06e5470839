/** A number with its noun: 1 edition, 1,200 rows. */
export function counted(n: number, single: string, many = `${single}s`): string {
  return `${n.toLocaleString('en')} ${n === 1 ? single : many}`
}

/** How large a dataset is: in rows, or a raster in pixels. */
export function sizeOf({ rows, raster }: { rows: number; raster?: Record<string, unknown> | null }): string {
  return raster ? `${String(raster.width)} × ${String(raster.height)} px` : counted(rows, 'row')
}

/** A moment as people write it: 25 Nov 2026, 04:00. */
export function momentOf(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { dateStyle: 'medium', timeStyle: 'short' })
}
