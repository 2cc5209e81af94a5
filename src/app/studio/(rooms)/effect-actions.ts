"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import { addOnOccasion, removeOnOccasion } from "@/server/funnel/occasion"

type Done = { readonly refused?: string }

export async function addOnOccasionAction(input: unknown): Promise<Done> {
  const done = await addOnOccasion(await studio(), input)
  revalidatePath("/studio", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function removeOnOccasionAction(effect: number): Promise<Done> {
  const done = await removeOnOccasion(await studio(), effect)
  revalidatePath("/studio", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}
