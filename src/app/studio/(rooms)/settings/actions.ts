"use server"

import { revalidatePath } from "next/cache"
import { answered } from "@/app/answer"
import { keepSession, studio, studioSession, tokenOf } from "@/app/guard"
import type { Context } from "@/server/context"
import { newTeacher, removeTeacher, saveTeacher } from "@/server/course/teacher"
import { footEverywhere, showEverywhere, wearEverywhere } from "@/server/funnel/release"
import { connectCards, connectMeeting, disconnect, tryConnection } from "@/server/ledger/connect"
import { saveLook } from "@/server/look"
import { sendTest, tryAgainNow } from "@/server/mail/server"
import { cutPicture, describeMedia, focusPicture, removeUnused, replaceMedia } from "@/server/media/place"
import { putUpLegal, saveLegal, takeDownLegal } from "@/server/page/legal"
import { changePassword, setMailsComments, setMailsReport } from "@/server/person/account"
import { endOtherSessions } from "@/server/person/session"
import type { Made, Refused, Saved } from "@/server/saved"
import { saveSchool } from "@/server/school"
import type { Before } from "@/server/shared"

export const saveSchoolAction = async (input: unknown, before?: Before) => saveSchool(await studio(), input, before)

export async function sendTestAction(): Promise<{ sent: string } | { refused: string }> {
  const { account } = await studioSession()
  const done = await sendTest(await studio(), account)
  revalidatePath("/studio", "layout")
  return done
}

export async function tryAgainAction(): Promise<void> {
  await tryAgainNow(await studio())
  revalidatePath("/studio", "layout")
}

type Connectable = "cards" | "meeting"

export async function connectAction(
  what: Connectable,
  input: unknown,
  anyway: boolean,
): Promise<{ refused?: string; field?: string; anyway?: boolean }> {
  const s = await studio()
  const done = await (what === "cards" ? connectCards(s, input, anyway) : connectMeeting(s, input))
  revalidatePath("/studio", "layout")
  return "refused" in done ? done : {}
}

export const disconnectAction = async (what: Connectable) => answered(disconnect(await studio(), what))

export const tryConnectionAction = async (what: Connectable) => tryConnection(await studio(), what)

export type PasswordState = { readonly refused?: string; readonly field?: string; readonly done?: boolean }

export async function changePasswordAction(_: PasswordState, form: FormData): Promise<PasswordState> {
  const session = await studioSession()
  const typed = { current: String(form.get("current") ?? ""), next: String(form.get("next") ?? "") }
  const done = await changePassword(await studio(), session, typed)
  if ("refused" in done) return { refused: done.refused, field: done.field }
  await keepSession("studio", done.session)
  return { done: true }
}

export async function endOthersAction(): Promise<number> {
  const { account } = await studioSession()
  return endOtherSessions((await studio()).db, account, (await tokenOf("studio"))!)
}

export async function mailsCommentsAction(on: boolean): Promise<void> {
  const { account } = await studioSession()
  await setMailsComments(await studio(), account, on === true)
  revalidatePath("/studio/settings/account")
}

export async function mailsReportAction(on: boolean): Promise<void> {
  const { account } = await studioSession()
  await setMailsReport(await studio(), account, on === true)
  revalidatePath("/studio/settings/account")
}

/** One step: everything wears it, published pages with what stood on them. Gives how many funnels were put out again. */
export async function wearAction(worn: unknown, base: unknown): Promise<{ readonly funnels: number } | Refused> {
  const s = await studio()
  const done = await saveLook(s, worn, base)
  if ("refused" in done) return done
  const funnels = await wearEverywhere(s)
  revalidatePath("/", "layout")
  return { funnels }
}

export const newTeacherAction = async (input: unknown) => answered(newTeacher(await studio(), input))
export const saveTeacherAction = async (id: number, input: unknown, before?: Before) =>
  saveTeacher(await studio(), id, input, before)
export const removeTeacherAction = async (id: number) => answered(removeTeacher(await studio(), id))

export const describeMediaAction = async (id: number, typed: unknown) =>
  answered(describeMedia(await studio(), id, typed))
export const removeMediaAction = async (id: number) => answered(removeUnused(await studio(), id))

/** What pages that are out show of them changes with them. */
async function everywhere(s: Context, done: Saved | Made, ...media: readonly number[]) {
  if (!("refused" in done)) await showEverywhere(s, "id" in done ? [...media, done.id] : media)
  return answered(Promise.resolve(done))
}

export async function focusPictureAction(id: number, at: unknown) {
  const s = await studio()
  return everywhere(s, await focusPicture(s, id, at), id)
}

export async function cutPictureAction(id: number, cut: unknown) {
  const s = await studio()
  return everywhere(s, await cutPicture(s, id, cut), id)
}

export async function replaceMediaAction(id: number, by: number) {
  const s = await studio()
  return everywhere(s, await replaceMedia(s, id, by), id, by)
}

export const saveLegalAction = async (kind: unknown, input: unknown, before?: Before) =>
  saveLegal(await studio(), kind, input, before)

export async function putUpLegalAction(kind: unknown) {
  const s = await studio()
  const done = await putUpLegal(s, kind)
  if ("first" in done && done.first) await footEverywhere(s)
  return answered(Promise.resolve(done))
}

export async function takeDownLegalAction(kind: unknown) {
  const s = await studio()
  const done = await takeDownLegal(s, kind)
  if (!("refused" in done)) await footEverywhere(s)
  return answered(Promise.resolve(done))
}
