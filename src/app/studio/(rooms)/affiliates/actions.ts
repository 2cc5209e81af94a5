"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { studio } from "@/app/guard"
import type { Segment } from "@/core/person/segment/segment"
import { words } from "@/core/words/en"
import { answerName, approveAffiliate, changeAffiliate, endAffiliate, setOwnRate } from "@/server/affiliate/affiliate"
import { allowBonus, judgeBonus, removeBonus } from "@/server/affiliate/bonus"
import { addAffiliate, addAffiliates } from "@/server/affiliate/come"
import { leaveOut, writeOff } from "@/server/affiliate/commission"
import { makePayout, markPaid, undoPayout } from "@/server/affiliate/payout"
import { type Reckoned, reckonAll } from "@/server/affiliate/reckon"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { moveSale } from "@/server/affiliate/sale"
import { newBroadcast } from "@/server/broadcast/store"
import { makeOnce } from "@/server/once"
import { publishConditions, removeMaterial, saveMaterial, saveProgramme } from "@/server/programme/programme"
import type { Before } from "@/server/shared"

export type Done = { readonly refused?: string; readonly field?: string }

const home = "/studio/affiliates"

/** What was refused, or nothing; every page of affiliates is read anew. */
function said(done: object): Done {
  revalidatePath(home, "layout")
  return "refused" in done ? (done as Done) : {}
}

export const addAffiliateAction = async (input: unknown): Promise<Done> =>
  said(await addAffiliate(await studio(), input))

export async function addListAction(
  offer: number,
  text: string,
): Promise<
  | { readonly refused: string }
  | { readonly taken: number; readonly lines: readonly { readonly line: number; readonly says: string }[] }
> {
  const done = await addAffiliates(await studio(), offer, text)
  revalidatePath(home, "layout")
  return "taken" in done ? { taken: done.taken, lines: done.refused } : { refused: done.refused }
}

export const approveAction = async (affiliate: number): Promise<Done> =>
  said(await approveAffiliate(await studio(), affiliate))
export const answerNameAction = async (affiliate: number, yes: boolean): Promise<Done> =>
  said(await answerName(await studio(), affiliate, yes))
export const endAction = async (affiliate: number): Promise<Done> => said(await endAffiliate(await studio(), affiliate))
export const writeOffAction = async (affiliate: number): Promise<Done> =>
  said(await writeOff(await studio(), affiliate))
export const changeAffiliateAction = async (affiliate: number, input: unknown): Promise<Done> =>
  said(await changeAffiliate(await studio(), affiliate, input))
export const ownRateAction = async (affiliate: number, offer: number, rate: unknown): Promise<Done> =>
  said(await setOwnRate(await studio(), affiliate, offer, rate))

export async function writeToAllAction(once: string): Promise<void> {
  const to: Segment = { match: "all", parts: [{ kind: "affiliate", is: true }] }
  const made = await makeOnce(await studio(), once, (s) => newBroadcast(s, words.affiliate.toAll, to))
  if ("id" in made) redirect(`/studio/mail/broadcasts/${made.id}`)
}

export const saveProgrammeAction = async (offer: number, input: unknown, before?: Before) =>
  saveProgramme(await studio(), offer, input, before)
export const conditionsAction = async (offer: number, words: string): Promise<Done> =>
  said(await publishConditions(await studio(), offer, words))
export const materialAction = async (offer: number, input: unknown, once: string): Promise<Done> =>
  said(await makeOnce(await studio(), once, (s) => saveMaterial(s, offer, input)))
export async function removeMaterialAction(offer: number, material: number): Promise<void> {
  await removeMaterial(await studio(), offer, material)
  said({})
}
export const allowBonusAction = async (offer: number, input: unknown, once: string): Promise<Done> =>
  said(await makeOnce(await studio(), once, (s) => allowBonus(s, offer, input)))
export async function removeBonusAction(offer: number, bonus: number): Promise<void> {
  await removeBonus(await studio(), offer, bonus)
  said({})
}
export const judgeBonusAction = async (bonus: number, approved: boolean): Promise<Done> =>
  said(await judgeBonus(await studio(), bonus, approved))

export const reckonAction = async (): Promise<Reckoned> => reckonAll((await studio()).db)

export async function makePayoutAction(input: unknown): Promise<Done> {
  const done = await makePayout(await studio(), input)
  if ("refused" in done) return said(done)
  revalidatePath(home, "layout")
  redirect(done.ids.length === 1 ? `${home}/payouts/${done.ids[0]}` : `${home}/payouts`)
}
export const leaveOutAction = async (rows: readonly number[], why: string): Promise<Done> =>
  said(await leaveOut(await studio(), { rows, why }))
export const undoPayoutAction = async (payout: number): Promise<Done> => said(await undoPayout(await studio(), payout))
export const markPaidAction = async (payout: number): Promise<Done> => said(await markPaid(await studio(), payout))

export const moveSaleAction = async (input: unknown): Promise<Done> => {
  const done = await moveSale(await studio(), input)
  revalidatePath("/studio/ledger", "layout")
  return said(done)
}

export const saveRulesAction = async (input: unknown): Promise<Done> =>
  said(await saveAffiliateRules(await studio(), input))
