// A course as an outline: modules and lessons in one list, as it is written. A lesson belongs to the module above it. Every edit
// is a pure function from one list to the next, so that what is taken back is what was.

export type OutlineRow = {
  /** Tells rows apart while they have no number yet. */
  readonly key: string
  /** The number of the module or lesson; null: not stored yet. */
  readonly id: number | null
  readonly kind: "module" | "lesson"
  readonly title: string
  /** Of lessons; modules have none of it. */
  readonly live: boolean
  readonly free: boolean
  readonly required: boolean
  /** There is more in it than its title; a lesson without is empty. */
  readonly written: boolean
  /** How often it was changed: of two answers of the server the later one has the higher. */
  readonly revision: number
  /** The lesson whose content a new one begins with. */
  readonly copyOf?: number
}

export type Outline = readonly OutlineRow[]

export function newRow(key: string, kind: OutlineRow["kind"], title = ""): OutlineRow {
  return { key, id: null, kind, title, live: false, free: false, required: true, written: false, revision: 0 }
}

/** Nothing is lost with it but its title, and nobody learns in it. */
export const isBare = (r: OutlineRow): boolean => !r.written && !r.live

/** A stored lesson with nothing in it: whoever opens it finds a title. */
export const isEmpty = (r: OutlineRow): boolean => r.kind === "lesson" && r.id !== null && !r.written

/** Puts rows after another, or at the top for null. */
export function insertRowAfter(rows: Outline, after: string | null, added: Outline): Outline {
  const at = after === null ? 0 : rows.findIndex((r) => r.key === after) + 1
  return [...rows.slice(0, at), ...added, ...rows.slice(at)]
}

export function setTitle(rows: Outline, key: string, title: string): Outline {
  return rows.map((r) => (r.key === key ? { ...r, title } : r))
}

/** The module's row with the lessons below it, or the row itself. */
export function withLessons(rows: Outline, key: string): string[] {
  const at = rows.findIndex((r) => r.key === key)
  if (at < 0) return []
  if (rows[at]!.kind === "lesson") return [key]
  const next = rows.findIndex((r, i) => i > at && r.kind === "module")
  return rows.slice(at, next < 0 ? rows.length : next).map((r) => r.key)
}

/** Removes rows; the lessons of a removed module go to the one above unless they are named, too. */
export function remove(rows: Outline, keys: ReadonlySet<string>): Outline {
  return rows.filter((r) => !keys.has(r.key))
}

/** Moves rows together before another one, or to the end for null; they keep their order. */
export function moveBefore(rows: Outline, keys: ReadonlySet<string>, before: string | null): Outline {
  if (before !== null && keys.has(before)) return rows
  const moved = rows.filter((r) => keys.has(r.key))
  const rest = rows.filter((r) => !keys.has(r.key))
  const at = before === null ? rest.length : rest.findIndex((r) => r.key === before)
  return at < 0 ? rows : [...rest.slice(0, at), ...moved, ...rest.slice(at)]
}

/** Moves rows by one place: past the row before or after all of them. */
export function moveBy(rows: Outline, keys: ReadonlySet<string>, way: "up" | "down"): Outline {
  const at = rows.flatMap((r, i) => (keys.has(r.key) ? [i] : []))
  if (!at.length) return rows
  if (way === "up") {
    const before = rows.slice(0, at[0]).at(-1)
    return before ? moveBefore(rows, keys, before.key) : rows
  }
  const rest = rows.filter((r) => !keys.has(r.key))
  const after = rows.slice(at.at(-1)! + 1)[0]
  if (!after) return rows
  return moveBefore(rows, keys, rest[rest.findIndex((r) => r.key === after.key) + 1]?.key ?? null)
}

/**
 * Makes lessons of modules (in), or modules of lessons (out). A lesson with something in it stays one; what changes its kind is
 * a new row, since the stored one is of the other kind.
 */
export function turn(rows: Outline, keys: ReadonlySet<string>, way: "in" | "out", fresh: () => string): Outline {
  const from = way === "in" ? "module" : "lesson"
  return rows.map((r) =>
    keys.has(r.key) && r.kind === from && isBare(r)
      ? { ...newRow(r.id === null ? r.key : fresh(), way === "in" ? "lesson" : "module", r.title) }
      : r,
  )
}

export type RowChange = Partial<Pick<OutlineRow, "live" | "free" | "required">>

/** Changes many lessons together. */
export function changeRow(rows: Outline, keys: ReadonlySet<string>, to: RowChange): Outline {
  return rows.map((r) => (keys.has(r.key) && r.kind === "lesson" ? { ...r, ...to } : r))
}

/** Puts copies of rows below the last of them; a copied module brings its own lessons where they are named. */
export function duplicate(rows: Outline, keys: ReadonlySet<string>, fresh: () => string): Outline {
  const copied = rows.filter((r) => keys.has(r.key))
  const last = copied.at(-1)
  if (!last) return rows
  const copies = copied.map(
    (r): OutlineRow => ({
      ...newRow(fresh(), r.kind, r.title),
      free: r.free,
      required: r.required,
      written: r.written,
      ...(r.kind === "lesson" && r.id !== null ? { copyOf: r.id } : r.copyOf === undefined ? {} : { copyOf: r.copyOf }),
    }),
  )
  return insertRowAfter(rows, last.key, copies)
}

const shared = ["title", "live", "free", "required", "written"] as const

/**
 * Takes in what the server has by now (a lesson put live beside the outline, or in another window), field by field where nobody has
 * changed it here since it was last heard. Gives the same list where nothing is new.
 */
export function takeIn(rows: Outline, heard: Outline, theirs: Outline): Outline {
  const of = (all: Outline) =>
    new Map<string, OutlineRow>(all.flatMap((r) => (r.id === null ? [] : [[`${r.kind}:${r.id}`, r] as const])))
  const [before, now] = [of(heard), of(theirs)]
  let changed = false
  const taken = rows.map((r) => {
    const [was, is] = [before.get(`${r.kind}:${r.id}`), now.get(`${r.kind}:${r.id}`)]
    if (!was || !is || is.revision <= was.revision) return r
    const fields = shared.filter((f) => r[f] === was[f] && is[f] !== r[f])
    if (!fields.length) return r
    changed = true
    return { ...r, ...Object.fromEntries(fields.map((f) => [f, is[f]])) }
  })
  return changed ? taken : rows
}

/** What is there, counted. */
export function outlineCounts(rows: Outline): { modules: number; lessons: number; live: number } {
  const lessons = rows.filter((r) => r.kind === "lesson")
  return { modules: rows.length - lessons.length, lessons: lessons.length, live: lessons.filter((r) => r.live).length }
}
