// Two changes of the same thing, made apart from each other: what each has changed since both began from the same.

export type Merge<T> = {
  /** Both changes together; a field that both changed differently has mine. */
  readonly merged: T
  /** Fields that both changed, each to something else. */
  readonly clashes: readonly (keyof T & string)[]
  /** Fields in which the merged one differs from mine. */
  readonly theirs: readonly (keyof T & string)[]
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b)

/** Merges by field (three-way, as version control does it): what only one side changed is taken from that side. */
export function mergeFields<T extends object>(base: T, mine: T, theirs: T): Merge<T> {
  const merged = { ...mine }
  const clashes: (keyof T & string)[] = []
  const taken: (keyof T & string)[] = []
  for (const field of Object.keys(mine) as (keyof T & string)[]) {
    if (same(mine[field], theirs[field])) continue
    if (same(base[field], mine[field])) {
      merged[field] = theirs[field]
      taken.push(field)
    } else if (!same(base[field], theirs[field])) clashes.push(field)
  }
  return { merged, clashes, theirs: taken }
}
