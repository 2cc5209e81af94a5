// The link in the mailbox: what it is about, and what pressing it brings, in one transaction.

import { addressOf, courseOf } from "@/core/funnel/address"
import { stepById } from "@/core/funnel/draft"
import { outcomesOf, webinarOf } from "@/core/funnel/step/list"
import { readJson } from "@/core/json"
import { firstNameShown } from "@/core/page/figures"
import type { Context } from "../context"
import { namesAreShown, showName } from "../course/figures"
import { waitFor } from "../course/waiting"
import type { Row } from "../db/row"
import { happen } from "../happen"
import { fieldAnswers } from "../person/field"
import { beginSession, type Device, letInBy, type Realm, realmOf } from "../person/session"
import { type Release, releaseById } from "../releases"
import { readWebinar } from "../webinar/webinar"
import { applied, takeAndTell } from "./join"
import { becomeKnown } from "./known"
import { leave, setOff } from "./leave"

export type Confirmed =
  | { readonly refused: "used" | "foreign"; readonly pending?: number }
  | { readonly session: string; readonly realm: Realm; readonly goTo: string }

export function courseOfJoin(release: Release): string {
  return courseOf(release.funnel)?.title ?? release.funnel.name
}
/** What stands on the page that the confirmation link opens. */
export async function pendingJoin(
  s: Context,
  id: number,
): Promise<{ state: "open" | "used"; asked: string; waits: boolean; email: string; asksName: boolean } | undefined> {
  const found = await s.db.row<
    Pick<Row<"pending_join">, "release_id" | "step_id" | "expires_at" | "pressed_at" | "email" | "name"> & {
      waits: string | null
    }
  >(
    "SELECT p.release_id, p.step_id, p.expires_at, p.pressed_at, p.email, p.name, c.title AS waits FROM pending_join p LEFT JOIN course c ON c.id = p.waits_course_id WHERE p.id = ?",
    [id],
  )
  const release = found && (await releaseById(s.db, found.release_id))
  if (!found || !release) return undefined
  const open = found.pressed_at === null && found.expires_at.getTime() > (await s.clock.now())
  const step = stepById(release.funnel, found.step_id)
  const webinar = step ? webinarOf(step) : null
  const named = webinar === null ? undefined : await readWebinar(s.db, webinar)
  return {
    state: open ? "open" : "used",
    asked: found.waits ?? named?.value.title ?? courseOfJoin(release),
    waits: found.waits !== null,
    email: found.email,
    asksName: found.waits === null && firstNameShown(found.name) !== null && (await namesAreShown(s.db)),
  }
}
/** The press: this person has this mailbox and agreed to these words. Makes them known, sets off what was promised, signs them in. */
export async function confirmJoin(
  s: Context,
  id: number,
  from: { ip: string; showName?: boolean } & Device,
): Promise<Confirmed> {
  const now = await s.clock.now()
  const at = new Date(now)
  const release = await s.db
    .row<{ release_id: number }>("SELECT release_id FROM pending_join WHERE id = ?", [id])
    .then((r) => r && releaseById(s.db, r.release_id))
  if (!release) return { refused: "foreign" }
  return s.db.transaction(async (tx): Promise<Confirmed> => {
    const join = await tx.row<{
      canonical: string
      email: string
      name: string
      zone: string
      wording: string
      ip: string
      page: string
      step_id: number
      inbox_step_id: number
      visitor: Buffer
      asked_at: Date
      expires_at: Date
      pressed_at: Date | null
      answers: string
      agreed_version: number
      waits_course_id: number | null
    }>("SELECT * FROM pending_join WHERE id = ? FOR UPDATE", [id])
    if (!join) return { refused: "foreign" }
    if (join.pressed_at !== null || join.expires_at.getTime() <= now) return { refused: "used", pending: id }
    await tx.update("pending_join", id, { pressed_at: at })
    const person = await becomeKnown(
      tx,
      release,
      { ...join, answers: readJson(fieldAnswers, join.answers), confirmed: true },
      from.ip || join.ip,
      now,
      from,
    )
    if (from.showName) await showName(tx, person, true, now)
    const funnel = release.funnel
    await happen(tx, {
      kind: "confirmed",
      at: now,
      once: `confirmed:${id}`,
      person,
      funnel: funnel.id,
      words: join.wording,
      ...(await letInBy(tx, from, person)),
    })
    // What joining promised waited for the press.
    const step = stepById(funnel, join.step_id)
    const outcome = step && outcomesOf(step.kind)[0]
    if (step) await applied(tx, step, person, join.agreed_version, now)
    if (join.waits_course_id !== null) await waitFor(tx, person, { course: join.waits_course_id, page: join.page }, now)
    const seat = step && webinarOf(step) !== null ? await takeAndTell(tx, id, person, now) : null
    const full = seat !== null && "refused" in seat
    if (outcome && !full) await setOff(tx, { release, step: join.step_id, outcome, at: now }, [person])
    // Whoever has taken a seat rests at the page that shows it; anyone else goes on by the press.
    const next = seat
      ? (stepById(funnel, full ? join.step_id : join.inbox_step_id) ?? null)
      : await leave(tx, {
          release,
          step: join.inbox_step_id,
          outcome: "confirmed",
          at: now,
          person,
          visitor: join.visitor,
        })
    const goTo = next ? `${addressOf(funnel, next)}${full ? "?full" : ""}` : "/learn"
    const realm = realmOf(goTo)
    return { session: await beginSession(tx, realm, person, { agent: from.agent, byMail: true }), realm, goTo }
  })
}
/** Forgets what strangers typed and nobody pressed, thirty days after its link has run out. */
export async function sweepPendingJoins(s: Context): Promise<void> {
  await s.db.write("DELETE FROM pending_join WHERE pressed_at IS NULL AND expires_at < ? LIMIT 5000", [
    new Date((await s.clock.now()) - 30 * 86400000),
  ])
}
