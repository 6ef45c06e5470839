/** Letters that are there of faces that don't ship with the editor. */
const there = new Map<string, { letters: string; face: FontFace }>()

/** Have all faces ready that labels are set in: a label drawn before its letters are there would stay as it was. `letters` says which
 * letters are needed of those that only the server has. */
export async function loadFaces(names: Iterable<string>, letters: Readonly<Record<string, string>>): Promise<void> {
  await Promise.all(
    [...names].map((name) => {
      const needed = letters[name]
      return needed === undefined ? document.fonts.load(`12px "${name}"`) : loadFrom(name, needed)
    }),
  ).catch(() => undefined)
}

async function loadFrom(name: string, letters: string): Promise<void> {
  const known = there.get(name)
  if (known && [...letters].every((letter) => known.letters.includes(letter))) return
  const face = new FontFace(name, `url(/api/draw/faces/${name}?letters=${encodeURIComponent(letters)})`)
  await face.load()
  if (known) document.fonts.delete(known.face)
  document.fonts.add(face)
  there.set(name, { letters, face })
}
