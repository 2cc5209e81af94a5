"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import {
  addressOfCaller,
  admitted,
  context,
  dropSession,
  keepSession,
  learner,
  learning,
  thisDevice,
  tokenOf,
} from "@/app/guard"
import { refusals } from "@/core/words/refusals"
import { joinProgramme } from "@/server/affiliate/affiliate"
import { showName } from "@/server/course/figures"
import { wayOut } from "@/server/course/gates"
import { handIn } from "@/server/course/hand-in"
import { markDone, markWatched } from "@/server/course/in-lesson"
import { takeInvitation } from "@/server/course/let-in"
import { type Tried, tryQuiz } from "@/server/course/quiz"
import { sayOfCourse, takeQuoteBack } from "@/server/course/quote"
import { answerSurvey } from "@/server/course/survey"
import { addComment, removeComment, saveNote } from "@/server/course/talk"
import { markSeen } from "@/server/notice/show"
import { makeOnce } from "@/server/once"
import { askAddressChange } from "@/server/person/address-change"
import { setLearnerPassword, signInLearner } from "@/server/person/learner"
import { endDevice, endSession, type Learner } from "@/server/person/session"
import { askWayIn, safePath } from "@/server/person/way-in"
import type { Saved } from "@/server/saved"

export type AskState = { readonly asked?: boolean; readonly refused?: string; readonly email?: string }

/** Whose way in it is about; it says nothing of the address. Also before the scripts have come. */
export async function addressAction(_: object, form: FormData): Promise<{ email: string; to: string }> {
  const text = (name: string) => String(form.get(name) ?? "").slice(0, 400)
  return { email: text("email").trim(), to: text("to") }
}

export async function askWayInAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const done = await askWayIn(context(), email, await addressOfCaller(), String(form.get("to") ?? ""))
  return "ok" in done ? { asked: true, email } : { refused: done.refused, email }
}

/** Signs in and leads to where they wanted to go. */
export async function signInAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const password = String(form.get("password") ?? "").slice(0, 1000)
  const done = await signInLearner(context(), { email, password, ip: await addressOfCaller() }, await thisDevice())
  if ("refused" in done) return { refused: done.refused, email }
  await keepSession("learn", done.session)
  redirect(safePath(String(form.get("to") ?? "")))
}

export type PasswordState = { readonly refused?: string; readonly field?: string; readonly done?: boolean }

export async function setPasswordAction(_: PasswordState, form: FormData): Promise<PasswordState> {
  const who = await learner()
  if (who === null) redirect("/learn/sign-in?to=/learn/account")
  const text = (name: string) => String(form.get(name) ?? "").slice(0, 1000)
  const typed = { current: text("current"), next: text("next") }
  const done = await setLearnerPassword(learning(who), who, await thisDevice(), typed)
  if ("refused" in done) return { refused: done.refused, ...(done.field ? { field: done.field } : {}) }
  await keepSession("learn", done.session)
  revalidatePath("/learn", "layout")
  return { done: true }
}

/** Asks both mailboxes whether the address is to be changed. */
export async function changeAddressAction(_: AskState, form: FormData): Promise<AskState> {
  const who = await learner()
  if (who === null) redirect("/learn/sign-in?to=/learn/account")
  const email = String(form.get("email") ?? "").slice(0, 400)
  const done = await askAddressChange(learning(who), who, email)
  revalidatePath("/learn/account")
  return "refused" in done ? { refused: done.refused, email } : { asked: true }
}

/** Ends a device's session, or all but this one for an empty id. */
export async function endDeviceAction(_: undefined, form: FormData): Promise<void> {
  const who = await learner()
  if (who === null) redirect("/learn/sign-in")
  const id = String(form.get("device") ?? "")
  await endDevice(context().db, who.person, (await tokenOf("learn")) ?? "", id || null)
  revalidatePath("/learn/account")
}

/** Whether pages may say their first name. */
export async function showNameAction(_: undefined, form: FormData): Promise<void> {
  const who = await learner()
  if (who === null) redirect("/learn/sign-in")
  const s = context()
  await showName(s.db, who.person, form.get("shown") === "1", await s.clock.now())
  revalidatePath("/learn/account")
}

/** Agrees to the conditions of a programme and joins it, from a lesson. */
export async function joinToRecommendAction(
  offer: number,
  version: number,
): Promise<{ readonly refused?: string; readonly done?: boolean }> {
  const who = await learner()
  if (who === null) redirect("/learn/sign-in")
  const s = learning(who)
  const at = await s.clock.now()
  const done = await s.db.transaction((tx) =>
    joinProgramme(tx, { person: who.person, offer, version, source: "lesson", at }),
  )
  revalidatePath("/learn", "layout")
  return "refused" in done ? done : { done: true }
}

export async function takeInvitationAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const name = String(form.get("name") ?? "").slice(0, 200)
  const key = String(form.get("invitation") ?? "")
  const done = await takeInvitation(context(), key, { email, name }, await addressOfCaller())
  return "ok" in done ? { asked: true, email } : { refused: done.refused, email }
}

export async function markDoneAction(_: undefined, form: FormData): Promise<void> {
  const person = await admitted()
  if (person === null) redirect("/learn/sign-in")
  const slug = String(form.get("course"))
  await markDone(learning(person), person, slug, Number(form.get("lesson")), form.get("done") === "1")
  revalidatePath("/learn", "layout")
  const next = String(form.get("next") ?? "")
  if (/^\/learn\/[a-z0-9-]+(\/\d+)?$/.test(next)) redirect(next)
  if (next === "out") redirect((await wayOut(context().db, slug)) ?? `/learn/${slug}`)
}

export async function leaveAction(): Promise<void> {
  const token = await tokenOf("learn")
  if (token) await endSession(context().db, token)
  await dropSession("learn")
  redirect((await wayOut(context().db, null)) ?? "/learn/sign-in")
}

/** A video was watched to its end: its lesson is done, where it wants that. */
export async function watchedAction(slug: string, lesson: number): Promise<void> {
  const who = await admitted()
  if (who === null) return
  await markWatched(learning(who), who, slug, lesson)
}

export async function tryQuizAction(
  at: { slug: string; lesson: number; block: string },
  answers: unknown,
): Promise<Tried | { readonly refused: string }> {
  const who = await admitted()
  return tryQuiz(who ? learning(who) : context(), who, at, answers)
}

type Said = { readonly refused?: string; readonly field?: string }

async function asLearner(work: (s: ReturnType<typeof learning>, who: Learner) => Promise<Saved>): Promise<Said> {
  const who = await learner()
  if (who === null) return { refused: refusals.account.proveFirst }
  const done = await work(learning(who), who)
  return "refused" in done ? { refused: done.refused, ...(done.field ? { field: done.field } : {}) } : {}
}

export const saveNoteAction = async (slug: string, lesson: number, body: unknown): Promise<Said> =>
  asLearner((s, who) => saveNote(s, who, slug, lesson, body))

export const addCommentAction = async (
  at: { slug: string; lesson: number; answers: number | null },
  body: unknown,
  once: string,
): Promise<Said> => asLearner((s, who) => makeOnce(s, once, (x) => addComment(x, who, at, body)))

export const removeCommentAction = async (id: number): Promise<Said> => asLearner((s, who) => removeComment(s, who, id))

export const handInAction = async (at: { slug: string; lesson: number; block: string }, body: unknown): Promise<Said> =>
  asLearner((s, who) => handIn(s, who, at, body))

export const answerSurveyAction = async (
  at: { slug: string; lesson: number; block: string },
  answers: unknown,
): Promise<Said> => asLearner((s, who) => answerSurvey(s, who, at, answers))

/** A notice came into view; a connection counts so many an hour, and no more. */
export async function noticeSeenAction(notice: number): Promise<void> {
  if (!Number.isSafeInteger(notice) || notice < 1) return
  const who = await learner()
  await markSeen(who ? learning(who) : context(), who, notice, await addressOfCaller())
}

export type WordsState = { readonly refused?: string; readonly field?: string; readonly done?: string }

export async function sayOfCourseAction(_: WordsState, form: FormData): Promise<WordsState> {
  const who = await learner()
  if (!who) return { refused: refusals.gone.thing }
  const s = learning(who)
  const course = Number(form.get("course")) || 0
  if (form.get("do") === "back") {
    await takeQuoteBack(s, who.person, course)
    return { done: "It is gone." }
  }
  const done = await sayOfCourse(s, who.person, {
    course,
    words: form.get("words"),
    name: form.get("name"),
    agrees: form.get("agrees") === "1",
    consent: `ticked “may be shown on pages about the course”`,
  })
  return "refused" in done ? done : { done: "Thank you. The school looks at it first." }
}
