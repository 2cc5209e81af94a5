// The sequences of a funnel that fills a webinar: reminders that a registration begins, and what is written to those who were there and to
// those who weren't, once it is over.
import { type Funnel, streamTo } from "@/core/funnel/draft"
import { type Outcome, stepKinds } from "@/core/funnel/step/list"
import type { SequenceStep } from "@/core/sequence/step/list"
import { offerMails, replayMails } from "@/core/sequence/webinar-follow-up"
import { remindersOf, type WaitedLetter } from "@/core/sequence/webinar-reminder"
import type { Webinar } from "@/core/webinar/webinar"
import type { Context } from "../context"
import type { Refused } from "../saved"
import { addLetter, newSequence, saveMail, saveSequence } from "../sequence/edit"
import { putLive } from "../sequence/live"
import { addEffect } from "./steps"

/** Whether something was refused on the way; thrown, so that what is under way ends there. */
class Halt extends Error {
  constructor(readonly refused: Refused) {
    super(refused.refused)
  }
}
const unwrap = <T extends object>(done: T | Refused): T => {
  if ("refused" in done) throw new Halt(done)
  return done
}

/** To be called inside the transaction that makes the funnel. */
export async function writeWebinarMails(
  s: Context,
  webinar: { readonly id: number; readonly value: Webinar },
  offer: { readonly id: number; readonly name: string },
  funnel: Funnel,
): Promise<Refused | null> {
  const { id, value: w } = webinar
  const taking = funnel.steps.find((x) => stepKinds[x.kind].takesSeat)!.id
  const waiting = funnel.steps.find((x) => stepKinds[x.kind].awaits)!.id
  const behind = (outcome: Outcome) => streamTo(funnel, waiting, outcome)!.id
  const goal = { match: "all", parts: [{ kind: "bought", offer: offer.id, has: true, days: null }] }
  try {
    await write(s, `Reminders: ${w.title}`, { goes: "asked", goal: null }, remindersOf(id, w), waiting, [
      [taking, "registered"],
    ])
    const after = { goes: "usual", goal } as const
    await write(s, `Was there: ${w.title}`, after, offerMails(id, w, offer), behind("attended"), [
      [waiting, "attended"],
    ])
    await write(s, `Replay: ${w.title}`, after, replayMails(id, w), behind("missed"), [
      [waiting, "left-early"],
      [waiting, "missed"],
    ])
    return null
  } catch (error) {
    if (error instanceof Halt) return error.refused
    throw error
  }
}

/** One sequence, live from here on: it begins by nothing but what the funnel sets off once it is published. */
async function write(
  s: Context,
  name: string,
  { goes, goal }: { readonly goes: string; readonly goal: object | null },
  letters: readonly WaitedLetter[],
  leadsTo: number,
  on: readonly (readonly [step: number, outcome: Outcome])[],
): Promise<void> {
  if (!letters.length) return
  const sequence = unwrap(await newSequence(s, name.slice(0, 120))).id
  const steps: SequenceStep[] = []
  for (const { wait, ...letter } of letters) {
    const mail = unwrap(await addLetter(s, sequence)).id
    unwrap(await saveMail(s, { mail, ...letter, lesson: null, step: leadsTo }))
    steps.push({ id: steps.length + 1, kind: "wait", wait }, { id: steps.length + 2, kind: "send", mail })
  }
  unwrap(await saveSequence(s, sequence, { flow: { goal, steps }, goes }))
  unwrap(await putLive(s, sequence))
  for (const [step, outcome] of on)
    unwrap(await addEffect(s, { step, outcome, kind: "begin-sequence", sequence, again: "ended" }))
}
