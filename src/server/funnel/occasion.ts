// Effects that hang on an occasion of the school: what happens is heard, and what hangs on it is done for the person.

import * as v from "valibot"
import type { OccasionKey } from "@/core/funnel/chain"
import type { OccasionFacts } from "@/core/funnel/occasion/kind"
import { isOccasion, type Occasion, occasions, occasionsAbout, occasionsOf } from "@/core/funnel/occasion/list"
import { grouped } from "@/core/group"
import type { Action } from "@/core/sequence/effect/list"
import { effectKinds, readDeed, refsOfDeed } from "@/core/sequence/effect/list"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Happening } from "../happen"
import { origin } from "../origin"
import { writeReferences } from "../reference"
import { gone, ok, refusal, type Saved } from "../saved"
import { circleSays, loadWires } from "../sequence/chain"
import { performAll } from "../sequence/effect/list"
import { type ActionRow, named } from "../sequence/effect/named"
import type { Listener } from "../tx-context"
import { chosenFor, effectInput } from "./steps"

const column = {
  offer: "on_offer_id",
  tag: "on_tag_id",
  lesson: "on_lesson_id",
  module: "on_module_id",
  course: "on_course_id",
  sequence: "on_sequence_id",
  field: "on_field_id",
  choice: "on_choice_id",
  coupon: "on_coupon_id",
  webinar: "on_webinar_id",
} as const

/** Hears everything that is an occasion. */
export const performOnOccasion: Listener = {
  to: [...new Set(Object.values(occasions).map((o) => o.happens))],
  hear: performFor,
  hearsAny: true,
}

/** What each of these happenings is an occasion of, done for its person, in their order. */
async function performFor(tx: Db, happenings: readonly Happening[]): Promise<void> {
  const kinds = [...new Set(happenings.flatMap((h) => occasionsOf(h.kind)))]
  if (!kinds.length) return
  const hanging = await effectsOf(tx, kinds)
  if (!hanging.size) return
  for (const h of happenings) {
    if (!h.person) continue
    for (const occasion of occasionsOf(h.kind)) {
      const { about } = occasions[occasion]
      const ids = about === "offer" ? (h.data?.offers ?? []) : about === null ? [0] : h.subject ? [h.subject] : []
      for (const of of ids) {
        const deeds = hanging.get(`${occasion}:${of}`) ?? []
        for (const deed of together(deeds))
          await performAll(tx, deed, [h.person], { at: h.at, origin: origin.occasion(deed[0]!.id), funnel: null })
      }
    }
  }
}

/** Effects in their order, those that open nothing together: what one gives can end with it alone. */
function together(deeds: readonly Action[]): Action[][] {
  const groups: Action[][] = []
  for (const d of deeds) {
    const last = groups.at(-1)
    if (last && !opens(d) && !opens(last[0]!)) last.push(d)
    else groups.push([d])
  }
  return groups
}

const opens = (d: Action) => effectKinds[d.kind].chooses === "course"

/** Everything that hangs on these occasions, by occasion and what it is about: `tagged:5`. */
async function effectsOf(db: Db, kinds: readonly Occasion[]): Promise<Map<string, Action[]>> {
  const rows = await db.rows<ActionRow & { occasion: Occasion; of: number }>(
    "SELECT id, kind, settings, occasion, COALESCE(on_offer_id, on_tag_id, on_lesson_id, on_module_id, on_course_id, on_sequence_id, on_field_id, on_choice_id, on_coupon_id, on_webinar_id, 0) AS of FROM effect WHERE occasion IN (?) ORDER BY id",
    [kinds],
  )
  const where = new Map(rows.map((r) => [r.id, `${r.occasion}:${r.of}`]))
  return rows.length ? grouped(await named(db, rows), (d) => where.get(d.id)!) : new Map()
}

/** What hangs on an occasion; `of`: the number of what it is about. */
export async function effectsOn(db: Db, occasion: Occasion, of: number): Promise<Action[]> {
  const { about } = occasions[occasion]
  const rows = await db.rows<ActionRow>(
    `SELECT id, kind, settings FROM effect WHERE occasion = ?${about ? ` AND ${column[about]} = ?` : ""} ORDER BY id`,
    about ? [occasion, of] : [occasion],
  )
  return rows.length ? named(db, rows) : []
}

export type OnOccasion = { readonly occasion: Occasion; readonly deeds: readonly Action[] }

/** Everything that hangs on the occasions about one thing. */
export async function effectsAbout(db: Db, about: OccasionFacts["about"], of: number): Promise<OnOccasion[]> {
  return Promise.all(
    occasionsAbout(about).map(async (occasion) => ({ occasion, deeds: await effectsOn(db, occasion, of) })),
  )
}

const input = v.object({
  occasion: v.pipe(v.string(), v.check(isOccasion, refusals.value.oneOfTheList)),
  /** The number of what it is about; 0: the school. */
  of: v.pipe(v.number(), v.integer(), v.minValue(0)),
  ...effectInput,
})

/** Hangs an effect on an occasion. It counts from now on, without publishing. */
export async function addOnOccasion(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const e = read.output
  const occasion = e.occasion as Occasion
  const { about } = occasions[occasion]
  return s.db.transaction(async (tx): Promise<Saved> => {
    if (about && !(await tx.row(`SELECT id FROM \`${about}\` WHERE id = ?`, [e.of]))) return gone
    const chosen = await chosenFor(tx, e)
    if (!chosen) return gone
    const settings = JSON.stringify(chosen.settings)
    const same = (await effectsOn(tx, occasion, e.of)).some(
      (d) => d.kind === chosen.kind && JSON.stringify(d.settings) === settings,
    )
    if (same) return { refused: refusals.value.effectTwice(effectKinds[e.kind].label), field: "tag" }
    const wires = await loadWires(tx)
    const key: OccasionKey = `${occasion}:${about ? e.of : 0}`
    const circle = await circleSays(tx, wires, {
      ...wires,
      on: new Map(wires.on).set(key, [
        ...(wires.on.get(key) ?? []),
        { kind: chosen.kind, settings: readDeed(chosen.kind, chosen.settings) },
      ]),
    })
    if (circle) return { refused: circle, field: "tag" }
    const made = await tx.write(
      `INSERT INTO effect (occasion, kind, settings${about ? `, ${column[about]}` : ""}) VALUES (?, ?, ?${about ? ", ?" : ""})`,
      [occasion, chosen.kind, settings, ...(about ? [e.of] : [])],
    )
    await writeReferences(
      tx,
      { effect: made.id },
      refsOfDeed(chosen).map((ref) => ({ from: { effect: made.id }, ref })),
    )
    return ok
  })
}

export async function removeOnOccasion(s: Context, effect: number): Promise<Saved> {
  const done = await s.db.write("DELETE FROM effect WHERE id = ? AND occasion IS NOT NULL", [effect])
  return done.affected ? ok : gone
}
