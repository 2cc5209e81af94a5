"use server"

import { revalidatePath } from "next/cache"
import { answered } from "@/app/answer"
import { studio } from "@/app/guard"
import { newFeedAddress } from "@/server/calendar/feed"
import { moveEntry, whatMoves } from "@/server/calendar/move"

export const whatMovesAction = async (entry: unknown): Promise<string | null> => whatMoves(await studio(), entry)

export const moveEntryAction = async (move: unknown) => answered(moveEntry(await studio(), move))

export async function newFeedAddressAction(): Promise<void> {
  await newFeedAddress(await studio())
  revalidatePath("/studio/calendar")
}
