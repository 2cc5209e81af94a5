// A message to everybody who recommends: a broadcast, begun as a draft.
import { newBroadcastDocument } from "@/core/mail/broadcast"
import { words } from "@/core/words/en"
import { newBroadcast, readBroadcast, saveBroadcast } from "../broadcast/store"
import type { Surroundings } from "../surroundings"

/** Gives the number of the draft. */
export async function draftToAffiliates(s: Surroundings): Promise<number> {
  const made = await newBroadcast(s, words.affiliate.toAll)
  if ("refused" in made) throw new Error(made.refused)
  const kept = (await readBroadcast(s.db, made.id))!
  await saveBroadcast(s, made.id, {
    name: kept.name,
    document: { ...newBroadcastDocument, to: { match: "all", parts: [{ kind: "affiliate", is: true }] } },
  })
  return made.id
}
