"use server"

import { revalidatePath } from "next/cache"
import { learner, learning } from "@/app/guard"
import { may } from "@/core/person/actor"
import { changeCard, endPlan } from "@/server/ledger/renew"

const signedOut = { refused: "You are no longer signed in. Ask for a new sign-in link." }

/** Who is signed in, in a context of their own. */
async function buyer() {
  const who = await learner()
  const s = who && learning(who)
  return s && may(s.actor, "see orders of", who) ? { s, person: who.person } : null
}

export async function endPlanAction(plan: number): Promise<{ refused?: string }> {
  const who = await buyer()
  if (who === null) return signedOut
  const done = await endPlan(who.s, who.person, plan)
  revalidatePath("/learn/plans")
  return "refused" in done ? done : {}
}

export async function changeCardAction(plan: number, token: string): Promise<{ refused?: string }> {
  const who = await buyer()
  if (who === null) return signedOut
  const done = await changeCard(who.s, who.person, plan, String(token))
  revalidatePath("/learn/plans")
  return "refused" in done ? done : {}
}
