"use server"

import { revalidatePath } from "next/cache"
import { redirect } from "next/navigation"
import { answered } from "@/app/answer"
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

export const addAffiliateAction = async (input: unknown) => answered(addAffiliate(await studio(), input))

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

export const approveAction = async (affiliate: number) => answered(approveAffiliate(await studio(), affiliate))
export const answerNameAction = async (affiliate: number, yes: boolean) =>
  answered(answerName(await studio(), affiliate, yes))
export const endAction = async (affiliate: number) => answered(endAffiliate(await studio(), affiliate))
export const writeOffAction = async (affiliate: number) => answered(writeOff(await studio(), affiliate))
export const changeAffiliateAction = async (affiliate: number, input: unknown) =>
  answered(changeAffiliate(await studio(), affiliate, input))
export const ownRateAction = async (affiliate: number, offer: number, rate: unknown) =>
  answered(setOwnRate(await studio(), affiliate, offer, rate))

export async function writeToAllAction(once: string): Promise<void> {
  const to: Segment = { match: "all", parts: [{ kind: "affiliate", is: true }] }
  const made = await makeOnce(await studio(), once, (s) => newBroadcast(s, words.affiliate.toAll, to))
  if ("id" in made) redirect(`/studio/mail/broadcasts/${made.id}`)
}

export const saveProgrammeAction = async (offer: number, input: unknown, before?: Before) =>
  saveProgramme(await studio(), offer, input, before)
export const conditionsAction = async (offer: number, words: string) =>
  answered(publishConditions(await studio(), offer, words))
export const materialAction = async (offer: number, input: unknown, once: string) =>
  answered(makeOnce(await studio(), once, (s) => saveMaterial(s, offer, input)))
export const removeMaterialAction = async (offer: number, material: number) =>
  answered(removeMaterial(await studio(), offer, material))
export const allowBonusAction = async (offer: number, input: unknown, once: string) =>
  answered(makeOnce(await studio(), once, (s) => allowBonus(s, offer, input)))
export const removeBonusAction = async (offer: number, bonus: number) =>
  answered(removeBonus(await studio(), offer, bonus))
export const judgeBonusAction = async (bonus: number, approved: boolean) =>
  answered(judgeBonus(await studio(), bonus, approved))

export const reckonAction = async (): Promise<Reckoned> => reckonAll((await studio()).db)

export async function makePayoutAction(input: unknown): Promise<Done> {
  const done = await makePayout(await studio(), input)
  if ("refused" in done) return done
  revalidatePath(home, "layout")
  redirect(done.ids.length === 1 ? `${home}/payouts/${done.ids[0]}` : `${home}/payouts`)
}
export const leaveOutAction = async (rows: readonly number[], why: string) =>
  answered(leaveOut(await studio(), { rows, why }))
export const undoPayoutAction = async (payout: number) => answered(undoPayout(await studio(), payout))
export const markPaidAction = async (payout: number) => answered(markPaid(await studio(), payout))

export const moveSaleAction = async (input: unknown) => answered(moveSale(await studio(), input))

export const saveRulesAction = async (input: unknown) => answered(saveAffiliateRules(await studio(), input))
