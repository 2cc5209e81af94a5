import { aboutOf } from "@/core/sequence/effect/list"
import { happen } from "../../happen"
import type { Perform } from "./perform"

/** What is wished here is heard by those who know of affiliates, further up. */
export const inviteAnAffiliate: Perform = async (tx, e, about) => {
  await happen(tx, {
    kind: "affiliate-wanted",
    at: about.at,
    person: about.person,
    subject: aboutOf(e),
    words: e.name,
    once: `affiliate-wanted:${about.person}:${aboutOf(e)}`,
  })
}
