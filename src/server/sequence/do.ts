// Doing what a step of a sequence does for one person.

import { refsOfDeed } from "@/core/sequence/effect/list"
import type { Doing } from "@/core/sequence/step/kind"
import type { Db } from "../db/pool"
import { namesOf } from "../names"
import { origin } from "../origin"
import { queueMail } from "../queue-mail"
import type { Run } from "./advance"
import { performAll } from "./effect/list"

export type StepDone = {
  readonly sequence: number
  readonly step: number
  readonly doing: Doing
  readonly run: Pick<Run, "enrolment" | "person" | "funnel">
  readonly at: number
}

/** To be called inside a transaction. What is about something that is gone is passed over. */
export async function doStep(tx: Db, d: StepDone): Promise<void> {
  const { doing, run, at } = d
  if ("tell" in doing) return tell(tx, d, doing.tell)
  const { kind, settings } = doing.effect
  const ref = refsOfDeed(doing.effect)[0]
  const name = ref ? (await namesOf(tx, [ref]))(ref.to, ref.id) : ""
  if (name === null) return
  await performAll(tx, [{ id: 0, kind, settings, name }], [run.person], {
    at,
    origin: origin.sequence(d.sequence),
    funnel: run.funnel,
  })
}

/** Writes to members of the team, once for each run. */
async function tell(tx: Db, d: StepDone, t: { readonly accounts: readonly number[]; readonly says: string }) {
  const members = await tx.rows<{ id: number; email: string; name: string }>(
    "SELECT id, email, name FROM account WHERE id IN (?)",
    [[0, ...t.accounts]],
  )
  if (members.length)
    await queueMail(
      tx,
      members.map((m) => ({
        once: `team-note:${d.run.enrolment}:${d.step}:${m.id}`,
        kind: "team-note",
        to_email: m.email,
        to_name: m.name,
        enrolment_id: d.run.enrolment,
        note: t.says.slice(0, 400),
        due_at: new Date(d.at),
      })),
    )
}
