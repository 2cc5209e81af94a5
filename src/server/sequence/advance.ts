// Taking people on through a sequence: the core says where somebody goes next; this asks what it wants to know, does what a
// step does, and writes down where they stand. Many at a time, in one transaction.

import type { Goes } from "@/core/mail/sending-rules"
import type { Segment } from "@/core/person/segment/segment"
import type { SequenceDocument } from "@/core/sequence/document"
import { behindMail } from "@/core/sequence/flow"
import { type FlowPlace, type Halt, travel } from "@/core/sequence/travel"
import type { Db } from "../db/pool"
import { endRuns } from "../mail/end"
import { whoIsIn } from "../person/segment"
import { queueMail } from "../queue-mail"
import { doStep } from "./do"
import { momentFor } from "./moment"

/** Somebody in a sequence, at a place of it. */
export type Run = {
  readonly enrolment: number
  readonly person: number
  readonly zone: string
  readonly email: string
  readonly name: string
  readonly funnel: number | null
  readonly place: FlowPlace
}

type Going = Run & { answer?: boolean; moment?: number | null }
type Stopped = { readonly run: Run; readonly halt: Extract<Halt, { at: "mail" | "rest" | "end" }> }

export type RunningSequence = { readonly sequence: number; readonly goes: Goes }

/** Takes these on from where they are; those at the goal leave. To be called inside a transaction. */
export async function advance(
  tx: Db,
  { sequence, goes }: RunningSequence,
  document: SequenceDocument,
  runs: readonly Run[],
  at: number,
): Promise<void> {
  const { flow } = document
  let going: Going[] = await leaveAtGoal<Going>(tx, sequence, document, runs, at)
  // A sequence has no way back, so every round takes everybody further down.
  while (going.length) {
    const halts = going.map((run) => ({
      run,
      halt: travel(flow, run.place, { now: at, zone: run.zone, answer: run.answer, moment: run.moment }),
    }))
    const next: Going[] = []
    const stopped: Stopped[] = []
    const asked = new Map<number, { question: Segment; runs: Going[] }>()
    for (const { run, halt } of halts) {
      const moved = "place" in halt ? { ...run, place: halt.place } : run
      switch (halt.at) {
        case "question": {
          const step = halt.place.step!
          const group = asked.get(step) ?? { question: halt.question, runs: [] }
          group.runs.push(moved)
          asked.set(step, group)
          break
        }
        case "moment":
          next.push({ ...moved, answer: undefined, moment: await momentFor(tx, halt.moment, run.person, at) })
          break
        case "doing":
          await doStep(tx, { sequence, step: halt.place.step!, doing: halt.doing, run, at })
          next.push({ ...run, place: halt.next, answer: undefined, moment: undefined })
          break
        default:
          stopped.push({ run: moved, halt })
      }
    }
    for (const { question, runs: group } of asked.values()) {
      const yes = await whoIsIn(
        tx,
        question,
        group.map((r) => r.person),
        at,
      )
      for (const run of group) next.push({ ...run, moment: undefined, answer: yes.has(run.person) })
    }
    const past = await rest(tx, { sequence, goes }, document, stopped, at)
    going = [...next, ...past]
  }
}

/** Whoever is at the goal has ended; gives the others. */
export async function leaveAtGoal<R extends Pick<Run, "enrolment" | "person">>(
  tx: Db,
  sequence: number,
  { flow: { goal }, name }: SequenceDocument,
  runs: readonly R[],
  at: number,
): Promise<R[]> {
  if (!goal || !runs.length) return [...runs]
  const there = await whoIsIn(
    tx,
    goal,
    runs.map((r) => r.person),
    at,
  )
  await endRuns(
    tx,
    runs.filter((r) => there.has(r.person)).map((r) => ({ ...r, sequence, name })),
    "reached its goal",
    at,
  )
  return runs.filter((r) => !there.has(r.person))
}

/** Writes down where people came to rest. Gives those who had an e-mail before in this run: they go on past it. */
async function rest(
  tx: Db,
  { sequence, goes }: RunningSequence,
  { flow, name }: SequenceDocument,
  stopped: readonly Stopped[],
  at: number,
): Promise<Going[]> {
  const past: Going[] = []
  const rests: { run: Run; step: number; arrived: number; due: number | null; listens: boolean }[] = []
  const mailed = await queueMails(tx, stopped, goes)
  for (const { run, halt } of stopped) {
    if (halt.at === "end") continue
    const { step, arrived } = halt.place
    if (halt.at === "mail" && !mailed.has(run.enrolment))
      past.push({ ...run, place: { step: behindMail(flow, halt.mail, step!), arrived: at } })
    else
      rests.push({
        run,
        step: step!,
        arrived,
        due: halt.at === "rest" ? halt.until : null,
        listens: flow.goal !== null || (halt.at === "rest" && halt.listens),
      })
  }
  if (rests.length)
    await tx.write(
      `UPDATE enrolment n JOIN (${rests.map(() => "SELECT ? AS id, ? AS step, ? AS arrived, ? AS due, ? AS listens").join(" UNION ALL ")}) r ON r.id = n.id
       SET n.step = r.step, n.arrived_at = r.arrived, n.due_at = r.due, n.listens = r.listens WHERE n.ended_at IS NULL`,
      rests.flatMap((r) => [
        r.run.enrolment,
        r.step,
        new Date(r.arrived),
        r.due === null ? null : new Date(r.due),
        r.listens ? 1 : 0,
      ]),
    )
  await endRuns(
    tx,
    stopped.filter((s) => s.halt.at === "end").map((s) => ({ ...s.run, sequence, name })),
    "finished",
    at,
  )
  return past
}

/** Puts down the e-mails that are next; gives the runs whose it is new for. */
async function queueMails(tx: Db, stopped: readonly Stopped[], goes: Goes): Promise<Set<number>> {
  const mails = stopped.flatMap(({ run, halt }) => (halt.at === "mail" ? [{ run, halt }] : []))
  if (!mails.length) return new Set()
  const once = (m: (typeof mails)[number]) => `sequence:${m.run.enrolment}:${m.halt.mail}`
  const had = await tx.rows<{ once: string }>("SELECT once FROM mail WHERE once IN (?)", [mails.map(once)])
  const before = new Set(had.map((h) => h.once))
  const fresh = mails.filter((m) => !before.has(once(m)))
  if (fresh.length)
    await queueMail(
      tx,
      fresh.map((m) => ({
        once: once(m),
        kind: "sequence",
        person_id: m.run.person,
        to_email: m.run.email,
        to_name: m.run.name,
        funnel_id: m.run.funnel,
        enrolment_id: m.run.enrolment,
        sequence_mail_id: m.halt.mail,
        goes,
        due_at: new Date(m.halt.due),
        not_after: m.halt.notAfter === undefined ? null : new Date(m.halt.notAfter),
      })),
    )
  return new Set(fresh.map((m) => m.run.enrolment))
}
