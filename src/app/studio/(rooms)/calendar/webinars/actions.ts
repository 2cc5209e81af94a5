"use server"

import { revalidatePath } from "next/cache"
import { type Answer, answered, goTo } from "@/app/answer"
import { studio } from "@/app/guard"
import { makeOnce } from "@/server/once"
import type { Before } from "@/server/shared"
import { callOff, moveDate } from "@/server/webinar/dates"
import { beginLive, endLive, showOffer } from "@/server/webinar/live"
import { askPoll, closePoll } from "@/server/webinar/poll"
import { answerByMail, sayAsHost, settleSaid } from "@/server/webinar/talk"
import { newWebinarOf, removeWebinar, saveWebinar } from "@/server/webinar/webinar"

export const newWebinarAction = async (_: Answer, form: FormData) =>
  goTo(
    "/studio/calendar/webinars",
    makeOnce(await studio(), form.get("once"), (s) => newWebinarOf(s, form.get("name"))),
  )

export const saveWebinarAction = async (id: number, input: unknown, before?: Before) =>
  saveWebinar(await studio(), id, input, before)

export async function removeWebinarAction(id: number): Promise<{ refused?: string }> {
  const done = await removeWebinar(await studio(), id)
  revalidatePath("/studio/calendar", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export const moveDateAction = async (id: number, to: unknown) => answered(moveDate(await studio(), id, to))

export const callOffAction = async (id: number) => answered(callOff(await studio(), id))

export const sayAsHostAction = async (date: number, words: string, once: string) =>
  answered(makeOnce(await studio(), once, (s) => sayAsHost(s, date, words)))

export const settleSaidAction = async (id: number, how: "answered" | "hidden") =>
  answered(settleSaid(await studio(), id, how === "hidden" ? "hidden" : "answered"))

/** The host begins, ends, or shows what it leads to. */
export async function hostAction(date: number, act: "begin" | "end" | "offer"): Promise<{ refused?: string }> {
  const s = await studio()
  const done = await { begin: beginLive, end: endLive, offer: showOffer }[act](s, date)
  return "refused" in done ? { refused: done.refused } : {}
}

export const answerAction = async (message: number, words: string) =>
  answered(answerByMail(await studio(), message, words))

export const askPollAction = async (date: number, poll: unknown, once: string) =>
  answered(makeOnce(await studio(), once, (s) => askPoll(s, date, poll)))

export const closePollAction = async (poll: number) => answered(closePoll(await studio(), poll))
