const LONGEST = 40

/** A name for a dataset in conditions, made of its title, that no other has. */
export function nameFor(title: string, taken: string[]): string {
  const plain = title
    .normalize('NFD')
    .replace(/\p{M}+/gu, '')
    .replace(/[^A-Za-z0-9]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .toLowerCase()
    .slice(0, LONGEST)
  const stem = /^[a-z]/.test(plain) ? plain : `data_${plain}`
  let name = stem
  for (let n = 2; taken.includes(name); n++) name = `${stem}_${n}`
  return name
}
