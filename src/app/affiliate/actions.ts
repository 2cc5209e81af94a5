"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import {
  activeAffiliateHere,
  addressOfCaller,
  affiliateHere,
  context,
  dropSession,
  keepSession,
  learner,
  portalPerson,
  recommending,
  thisDevice,
  tokenOf,
} from "@/app/guard"
import type { AskState } from "@/app/learn/actions"
import { changeAffiliate, joinProgramme } from "@/server/affiliate/affiliate"
import { askBankChange } from "@/server/affiliate/bank"
import { chooseBonus } from "@/server/affiliate/bonus"
import { acceptInvitation } from "@/server/affiliate/come"
import { makeLink, removeLink } from "@/server/affiliate/portal"
import { signInLearner, stepOver } from "@/server/person/learner"
import { endSession } from "@/server/person/session"

export type Done = { readonly refused?: string; readonly field?: string; readonly done?: boolean }

const said = (done: object): Done => {
  revalidatePath("/affiliate", "layout")
  return "refused" in done ? (done as Done) : { done: true }
}

export async function leaveAction(): Promise<void> {
  const token = await tokenOf("affiliate")
  if (token) await endSession(context().db, token)
  await dropSession("affiliate")
  redirect("/affiliate/sign-in")
}

/** Signs in to the portal with the password of the learning area. */
export async function signInAction(_: AskState, form: FormData): Promise<AskState> {
  const email = String(form.get("email") ?? "").slice(0, 400)
  const password = String(form.get("password") ?? "").slice(0, 1000)
  const done = await signInLearner(
    context(),
    { email, password, ip: await addressOfCaller() },
    await thisDevice(),
    "affiliate",
  )
  if ("refused" in done) return { refused: done.refused, email }
  await keepSession("affiliate", done.session)
  redirect("/affiliate")
}

/** Whoever is in the learning area steps over, by one press. */
export async function stepOverAction(): Promise<void> {
  const who = await learner()
  const session = who && (await stepOver(context(), who, await thisDevice()))
  if (!session) redirect("/affiliate/sign-in")
  await keepSession("affiliate", session)
  redirect("/affiliate")
}

/** Agrees to the conditions of a programme, and joins it. */
export async function joinAction(offer: number, version: number): Promise<Done> {
  const person = await portalPerson()
  if (person === null) redirect("/affiliate/sign-in")
  const s = context()
  const at = await s.clock.now()
  return said(await s.db.transaction((tx) => joinProgramme(tx, { person, offer, version, source: "invitation", at })))
}

export async function acceptInvitationAction(key: string, _: AskState, form: FormData): Promise<AskState> {
  const text = (name: string) => String(form.get(name) ?? "").slice(0, 400)
  const typed = { email: text("email"), name: text("name"), website: text("website") }
  const done = await acceptInvitation(context(), key, typed, await addressOfCaller())
  return "ok" in done ? { asked: true, email: typed.email } : { refused: done.refused, email: typed.email }
}

export async function makeLinkAction(to: string, name: string): Promise<Done> {
  const a = await activeAffiliateHere()
  return said(await makeLink(recommending(a), a, { to, name }))
}

export async function removeLinkAction(link: number): Promise<void> {
  const a = await activeAffiliateHere()
  await removeLink(recommending(a), a, link)
  said({})
}

export async function bankAction(input: unknown): Promise<Done> {
  const a = await affiliateHere()
  return said(await askBankChange(recommending(a), a.id, input))
}

export async function aboutMeAction(input: unknown): Promise<Done> {
  const a = await activeAffiliateHere()
  return said(await changeAffiliate(recommending(a), a.id, input))
}

export async function bonusAction(bonus: number, on: boolean): Promise<Done> {
  const a = await activeAffiliateHere()
  return said(await chooseBonus(recommending(a), a.id, bonus, on))
}
