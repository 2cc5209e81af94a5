"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { studio } from "@/app/guard"
import { makeOnce } from "@/server/once"
import type { Before } from "@/server/shared"
import { callOff, moveDate } from "@/server/webinar/dates"
import { beginLive, endLive, showOffer } from "@/server/webinar/live"
import { askPoll, closePoll } from "@/server/webinar/poll"
import { answerByMail, sayAsHost, settleSaid } from "@/server/webinar/talk"
import { newWebinarOf, removeWebinar, saveWebinar } from "@/server/webinar/webinar"

export async function newWebinarAction(_: { refused?: string }, form: FormData): Promise<{ refused?: string }> {
  const done = await makeOnce(await studio(), form.get("once"), (s) => newWebinarOf(s, form.get("name")))
  if ("refused" in done) return { refused: done.refused }
  redirect(`/studio/calendar/webinars/${done.id}`)
}

export const saveWebinarAction = async (id: number, input: unknown, before?: Before) =>
  saveWebinar(await studio(), id, input, before)

export async function removeWebinarAction(id: number): Promise<{ refused?: string }> {
  const done = await removeWebinar(await studio(), id)
  revalidatePath("/studio/calendar", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function moveDateAction(id: number, to: unknown): Promise<{ refused?: string }> {
  const done = await moveDate(await studio(), id, to)
  revalidatePath("/studio/calendar", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function callOffAction(id: number): Promise<{ refused?: string }> {
  const done = await callOff(await studio(), id)
  revalidatePath("/studio/calendar", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function sayAsHostAction(date: number, words: string, once: string): Promise<{ refused?: string }> {
  const done = await makeOnce(await studio(), once, (s) => sayAsHost(s, date, words))
  return "refused" in done ? { refused: done.refused } : {}
}

export async function settleSaidAction(id: number, how: "answered" | "hidden"): Promise<{ refused?: string }> {
  const done = await settleSaid(await studio(), id, how === "hidden" ? "hidden" : "answered")
  return "refused" in done ? { refused: done.refused } : {}
}

/** The host begins, ends, or shows what it leads to. */
export async function hostAction(date: number, act: "begin" | "end" | "offer"): Promise<{ refused?: string }> {
  const s = await studio()
  const done = await { begin: beginLive, end: endLive, offer: showOffer }[act](s, date)
  return "refused" in done ? { refused: done.refused } : {}
}

export async function answerAction(message: number, words: string): Promise<{ refused?: string }> {
  const done = await answerByMail(await studio(), message, words)
  return "refused" in done ? { refused: done.refused } : {}
}

export async function askPollAction(date: number, poll: unknown, once: string): Promise<{ refused?: string }> {
  const done = await makeOnce(await studio(), once, (s) => askPoll(s, date, poll))
  return "refused" in done ? { refused: done.refused } : {}
}

export async function closePollAction(poll: number): Promise<{ refused?: string }> {
  const done = await closePoll(await studio(), poll)
  return "refused" in done ? { refused: done.refused } : {}
}
