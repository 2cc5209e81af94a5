import { aboutOf } from "@/core/sequence/effect/list"
import { happen } from "../../happen"
import type { Perform } from "./perform"

/** What is wished here is heard by those who know of affiliates, further up. */
export const inviteAnAffiliate: Perform = async (tx, e, people, { at }) => {
  const subject = aboutOf(e)
  await happen(
    tx,
    people.map((person) => ({
      kind: "affiliate-wanted" as const,
      at,
      person,
      subject,
      words: e.name,
      once: `affiliate-wanted:${person}:${subject}`,
    })),
  )
}
