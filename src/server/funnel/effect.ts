// What an outcome sets off: tags, sequences, courses.
import type { Funnel } from "@/core/funnel/draft"
import type { Outcome } from "@/core/funnel/kinds"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { beginSequence, endSequence } from "../mail/enrol"

export type OrderOf = { readonly id: number; readonly story: number }

/** What an effect gave because of an order: apart from what anything else gives, so that it can end with the order. */
export const effectOrigin = (order: number) => `order:${order}`

/** Does everything that the outcome of a step sets off, for one person. To be called inside a transaction. */
export async function performEffects(
  tx: Db,
  what: {
    funnel: Funnel
    release: number
    step: number
    outcome: Outcome
    person: number
    at: number
    /** The order that set it off, and the first of its story, where this comes of buying. */
    order?: OrderOf
  },
): Promise<void> {
  for (const e of what.funnel.effects.filter((e) => e.step === what.step && e.outcome === what.outcome)) {
    const { person, at } = what
    switch (e.kind) {
      case "open-course":
        await admit(tx, {
          person,
          course: e.subject,
          origin: what.order ? effectOrigin(what.order.id) : `funnel:${what.funnel.id}`,
          story: what.order?.story,
          at,
          title: e.name,
        })
        break
      case "begin-sequence": {
        const sequence = what.funnel.sequences.find((q) => q.id === e.subject)
        if (sequence) await beginSequence(tx, { person, sequence, release: what.release, funnel: what.funnel.id, at })
        break
      }
      case "end-sequence":
        await endSequence(tx, { person, sequence: e.subject, why: "ended", at })
        break
      case "tag-on":
        await tag(tx, person, e.subject, at, e.name)
        break
      case "tag-off": {
        const off = await tx.write("DELETE FROM person_tag WHERE person_id = ? AND tag_id = ?", [person, e.subject])
        if (off.affected) await happen(tx, [{ kind: "untagged", at, person, subject: e.subject, words: e.name }])
      }
    }
  }
}

export async function admit(
  tx: Db,
  a: { person: number; course: number; origin: string; story?: number; at: number; title: string },
): Promise<void> {
  const course = await tx.row("SELECT id FROM course WHERE id = ?", [a.course])
  if (!course) return
  const made = await tx.write(
    "INSERT IGNORE INTO admission (person_id, course_id, origin, order_id, from_at) VALUES (?, ?, ?, ?, ?)",
    [a.person, a.course, a.origin, a.story ?? null, new Date(a.at)],
  )
  if (made.affected)
    await happen(tx, [{ kind: "admitted", at: a.at, person: a.person, subject: a.course, words: a.title }])
}

async function tag(tx: Db, person: number, id: number, at: number, name: string): Promise<void> {
  const on = await tx.write(
    "INSERT IGNORE INTO person_tag (person_id, tag_id, at, joined_at) SELECT p.id, t.id, ?, p.joined_at FROM person p, tag t WHERE p.id = ? AND t.id = ?",
    [new Date(at), person, id],
  )
  if (on.affected) await happen(tx, [{ kind: "tagged", at, person, subject: id, words: name }])
}
