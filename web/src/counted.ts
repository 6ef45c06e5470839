/** A number with its noun: 1 edition, 1,200 rows. */
export function counted(n: number, one: string, many = `${one}s`): string {
  return `${n.toLocaleString('en')} ${n === 1 ? one : many}`
}
