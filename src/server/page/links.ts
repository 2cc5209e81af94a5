// What links in rich text can lead to by name, and where that is.
import { type StepKind, stepKinds } from "@/core/funnel/step/list"
import type { Ref } from "@/core/reference"
import type { Db } from "../db/pool"

/** What a link can lead to: what it is, what it is called, and how the link names it. */
export type LinkTarget = { readonly group: string; readonly name: string; readonly href: string }

const kindsThat = (is: (kind: (typeof stepKinds)[StepKind]) => boolean) =>
  (Object.keys(stepKinds) as StepKind[]).filter((k) => is(stepKinds[k]))

type Kind = {
  /** What it is, in the editor. */
  readonly group: string
  /** In SQL: number and name of all there are, and number and address of some. */
  readonly names: string
  readonly addresses: string
  /** The kinds of step at whose page it is; asked for first. */
  readonly at?: readonly StepKind[]
}

/** By how a link names it. */
const kinds: Readonly<Record<string, Kind>> = {
  course: {
    group: "Course",
    names: "SELECT id, title AS name FROM course ORDER BY title",
    addresses: "SELECT id, CONCAT('/learn/', slug) AS address FROM course WHERE id IN (?)",
  },
  lesson: {
    group: "Lesson",
    names: "SELECT id, title AS name FROM lesson WHERE state = 'live' AND title <> '' ORDER BY title LIMIT 2000",
    addresses:
      "SELECT l.id, CONCAT('/learn/', c.slug, '/', l.id) AS address FROM lesson l JOIN course c ON c.id = l.course_id WHERE l.id IN (?)",
  },
  offer: {
    group: "Offer",
    names: `SELECT o.id, o.public_name AS name FROM offer o WHERE o.removed_at IS NULL
      AND EXISTS (SELECT 1 FROM reference r JOIN step s ON s.id = r.step_id AND s.kind IN (?) WHERE r.offer_id = o.id AND r.say = 'sells it') ORDER BY 2`,
    addresses: `SELECT r.offer_id AS id, CONCAT('/', MIN(s.path)) AS address FROM reference r JOIN step s ON s.id = r.step_id AND s.kind IN (?)
      WHERE r.offer_id IN (?) AND r.say = 'sells it' GROUP BY 1`,
    at: kindsThat((k) => k.sells?.as === "first"),
  },
  webinar: {
    group: "Webinar",
    names: `SELECT w.id, w.name FROM webinar w
      WHERE EXISTS (SELECT 1 FROM reference r JOIN step s ON s.id = r.step_id AND s.kind IN (?) WHERE r.webinar_id = w.id) ORDER BY 2`,
    addresses: `SELECT r.webinar_id AS id, CONCAT('/', MIN(s.path)) AS address FROM reference r JOIN step s ON s.id = r.step_id AND s.kind IN (?)
      WHERE r.webinar_id IN (?) GROUP BY 1`,
    at: kindsThat((k) => k.takesSeat === true),
  },
  file: {
    group: "File",
    names: "SELECT id, name FROM media WHERE kind = 'file' ORDER BY name LIMIT 2000",
    addresses: "SELECT id, CONCAT('/media/', stored) AS address FROM media WHERE id IN (?) AND kind = 'file'",
  },
}

/** Everything that has an address of its own, besides the pages of the funnel. */
export async function linkTargets(db: Db): Promise<LinkTarget[]> {
  const found: LinkTarget[] = []
  for (const [kind, { group, names, at }] of Object.entries(kinds))
    for (const { id, name } of await db.rows<{ id: number; name: string }>(names, at ? [at] : []))
      found.push({ group, name, href: `${kind}:${id}` })
  return found
}

/** Where the links among what is referred to lead, by how they name it ("course:3"). What is nowhere is left out. */
export async function addressesOf(db: Db, refs: readonly Ref[]): Promise<ReadonlyMap<string, string>> {
  const found = new Map<string, string>()
  for (const [kind, { addresses, at }] of Object.entries(kinds)) {
    const to = kind === "file" ? "media" : kind
    const ids = refs.flatMap((r) => (r.to === to && r.use === "links to it" ? [r.id] : []))
    if (!ids.length) continue
    for (const { id, address } of await db.rows<{ id: number; address: string }>(addresses, at ? [at, ids] : [ids]))
      found.set(`${kind}:${id}`, address)
  }
  return found
}
