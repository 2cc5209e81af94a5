"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { addressOfCaller, dropSession, learner, learning, surroundings, tokenOf } from "@/app/door"
import { markDone } from "@/server/course/learn"
import { takeInvitation } from "@/server/course/let-in"
import { endSession } from "@/server/person/session"
import { askWayIn } from "@/server/person/way-in"

export type AskState = { readonly asked?: boolean; readonly refused?: string; readonly email?: string }

export async function askWayInAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const done = await askWayIn(surroundings(), email, await addressOfCaller(), String(form.get("to") ?? ""))
  return "ok" in done ? { asked: true, email } : { refused: done.refused, email }
}

export async function takeInvitationAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const name = String(form.get("name") ?? "").slice(0, 200)
  const key = String(form.get("invitation") ?? "")
  const done = await takeInvitation(surroundings(), key, { email, name }, await addressOfCaller())
  return "ok" in done ? { asked: true, email } : { refused: done.refused, email }
}

export async function markDoneAction(form: FormData): Promise<void> {
  const person = await learner()
  if (person === null) redirect("/learn/sign-in")
  const slug = String(form.get("course"))
  await markDone(learning(person), person, slug, Number(form.get("lesson")), form.get("done") === "1")
  revalidatePath("/learn", "layout")
  const next = String(form.get("next") ?? "")
  if (/^\/learn\/[a-z0-9-]+(\/\d+)?$/.test(next)) redirect(next)
}

export async function leaveAction(): Promise<void> {
  const token = await tokenOf("learn")
  if (token) await endSession(surroundings().db, token)
  await dropSession("learn")
  redirect("/learn/sign-in")
}
