// The reminders of a webinar that a new funnel fills: a sequence that its registration begins, with the way into the room in each.
import type { Funnel } from "@/core/funnel/draft"
import { stepKinds } from "@/core/funnel/step/list"
import { reminderSteps, remindersOf } from "@/core/webinar/reminder"
import type { Webinar } from "@/core/webinar/webinar"
import type { Refused } from "../saved"
import { addLetter, newSequence, saveMail, saveSequence } from "../sequence/edit"
import { putLive } from "../sequence/live"
import type { Surroundings } from "../surroundings"
import { addEffect } from "./steps"

/** To be called inside the transaction that makes the funnel. */
export async function writeReminders(
  s: Surroundings,
  webinar: number,
  w: Webinar,
  steps: Funnel["steps"],
): Promise<Refused | null> {
  const taking = steps.find((x) => stepKinds[x.kind].takesSeat)!
  const seat = steps.find((x) => stepKinds[x.kind].webinar && !stepKinds[x.kind].takesSeat)!
  const made = await newSequence(s, `Reminders: ${w.title}`.slice(0, 120))
  if ("refused" in made) return made
  const mails: { before: number; mail: number }[] = []
  for (const { before, ...letter } of remindersOf(w)) {
    const mail = await addLetter(s, made.id)
    if ("refused" in mail) return mail
    const saved = await saveMail(s, { mail: mail.id, ...letter, lesson: null, step: seat.id })
    if ("refused" in saved) return saved
    mails.push({ before, mail: mail.id })
  }
  const saved = await saveSequence(s, made.id, {
    flow: { goal: null, steps: reminderSteps(webinar, mails) },
    goes: "asked",
  })
  if ("refused" in saved) return saved
  // Live from here on: it begins by nothing but what the funnel sets off once it is published.
  const live = await putLive(s, made.id)
  if ("refused" in live) return live
  const done = await addEffect(s, {
    step: taking.id,
    outcome: "registered",
    kind: "begin-sequence",
    sequence: made.id,
    again: "ended",
  })
  return "refused" in done ? done : null
}
