"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import { markPosted } from "@/server/ledger/orders"
import { type Refunded, refundStory } from "@/server/ledger/refund"

export async function refundAction(input: unknown): Promise<Refunded> {
  const done = await refundStory(await studio(), input)
  revalidatePath("/studio/ledger", "layout")
  return done
}

export async function markPostedAction(line: number): Promise<void> {
  await markPosted(await studio(), line)
  revalidatePath("/studio/ledger", "layout")
}
