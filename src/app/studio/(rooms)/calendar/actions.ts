"use server"

import { revalidatePath } from "next/cache"
import { studio } from "@/app/guard"
import { newFeedAddress } from "@/server/calendar/feed"
import { moveEntry, whatMoves } from "@/server/calendar/move"

export const whatMovesAction = async (entry: unknown): Promise<string | null> => whatMoves(await studio(), entry)

export async function moveEntryAction(move: unknown): Promise<{ refused?: string }> {
  const done = await moveEntry(await studio(), move)
  revalidatePath("/studio/calendar", "layout")
  return "refused" in done ? { refused: done.refused } : {}
}

export async function newFeedAddressAction(): Promise<void> {
  await newFeedAddress(await studio())
  revalidatePath("/studio/calendar")
}
