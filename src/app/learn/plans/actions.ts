"use server"

import { revalidatePath } from "next/cache"
import { learner, surroundings } from "@/app/door"
import { changeCard, endPlan } from "@/server/ledger/renew"

const signedOut = { refused: "You are no longer signed in. Ask for a new sign-in link." }

/** Who is signed in with everything, not just on the device that ordered. */
async function buyer(): Promise<number | null> {
  const who = await learner()
  return who && who.scope === null ? who.person : null
}

export async function endPlanAction(plan: number): Promise<{ refused?: string }> {
  const person = await buyer()
  if (person === null) return signedOut
  const done = await endPlan(surroundings(), person, plan)
  revalidatePath("/learn/plans")
  return "refused" in done ? done : {}
}

export async function changeCardAction(plan: number, token: string): Promise<{ refused?: string }> {
  const person = await buyer()
  if (person === null) return signedOut
  const done = await changeCard(surroundings(), person, plan, String(token))
  revalidatePath("/learn/plans")
  return "refused" in done ? done : {}
}
