// What is found by the words that are typed, and by which word of its own.

export type FindMatch = {
  readonly group: string
  readonly name: string
  readonly href: string
  /** Other words that it is looked for by. */
  readonly also?: readonly string[]
}

export type Match = FindMatch & {
  /** Its name in pieces; those that were typed are marked. */
  readonly pieces: readonly { readonly text: string; readonly hit: boolean }[]
  /** Words of `also` by which it was found, where its name alone doesn't say it. */
  readonly by: readonly string[]
}

/** Without case and accents, letter for letter, so that places in it are places in the word as well. */
const fold = (s: string) =>
  [...s]
    .map((c) => {
      const plain = c.normalize("NFD")[0] ?? c
      const small = plain.toLowerCase()
      return small.length === c.length ? small : c
    })
    .join("")

/** Everything in which each typed word stands, those whose name begins with the first one at the top. */
export function matches(all: readonly FindMatch[], typed: string): Match[] {
  const words = fold(typed).split(/\s+/).filter(Boolean)
  const found = all.flatMap((x): (Match & { rank: number })[] => {
    const name = fold(x.name)
    const elsewhere = words.filter((w) => !name.includes(w))
    const by = new Set<string>()
    for (const w of elsewhere) {
      const word = x.also?.find((a) => fold(a).includes(w))
      if (word === undefined) return []
      by.add(word)
    }
    const first = words[0] ?? ""
    const rank = name.startsWith(first) ? 0 : name.includes(` ${first}`) ? 1 : elsewhere.length ? 3 : 2
    return [{ ...x, pieces: piecesOf(x.name, name, words), by: [...by], rank }]
  })
  return found.sort((a, b) => a.rank - b.rank)
}

function piecesOf(name: string, folded: string, words: readonly string[]): Match["pieces"] {
  const hit = new Array<boolean>(name.length).fill(false)
  for (const w of words)
    for (let at = folded.indexOf(w); at >= 0; at = folded.indexOf(w, at + 1)) hit.fill(true, at, at + w.length)
  const pieces: { text: string; hit: boolean }[] = []
  for (let i = 0; i < name.length; i++) {
    const last = pieces.at(-1)
    if (last?.hit === hit[i]) last!.text += name[i]
    else pieces.push({ text: name[i]!, hit: hit[i]! })
  }
  return pieces
}
