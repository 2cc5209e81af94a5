import type { Action } from "@/core/sequence/effect/list"
import { againOf, sequenceBegun } from "@/core/sequence/effect/list"
import type { Db } from "../../db/pool"
import { beginSequence } from "../begin"
import type { About, Perform } from "./perform"

export const beginASequence: Perform = (tx, e, about) => beginASequenceForAll(tx, e, [about.person], about)

/** The same for many at once. */
export async function beginASequenceForAll(
  tx: Db,
  e: Action,
  people: readonly number[],
  about: Pick<About, "funnel" | "at">,
): Promise<void> {
  const sequence = sequenceBegun(e)
  if (sequence !== null)
    await beginSequence(tx, { people, sequence, funnel: about.funnel, at: about.at, again: againOf(e) })
}
