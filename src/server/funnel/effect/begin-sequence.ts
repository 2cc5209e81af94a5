import { isAgain, sequenceBegun } from "@/core/funnel/effect/list"
import type { Db } from "../../db/pool"
import { beginSequence } from "../../mail/enrol"
import { type Release, releaseById } from "../../releases"
import type { Perform } from "./perform"

export const beginASequence: Perform = async (tx, e, about) => {
  const id = sequenceBegun(e)
  const release = about.release ?? (id === null ? undefined : await liveOf(tx, id))
  const sequence = release?.funnel.sequences.find((q) => q.id === id)
  if (sequence && release)
    await beginSequence(tx, {
      person: about.person,
      sequence,
      release: release.id,
      funnel: release.funnel.id,
      at: about.at,
      again: isAgain(e),
    })
}

/** The live release of the funnel that a sequence is of: outside of a funnel its e-mails come as they were published. */
async function liveOf(tx: Db, sequence: number): Promise<Release | undefined> {
  const row = await tx.row<{ release: number | null }>(
    "SELECT f.live_release_id AS `release` FROM sequence q JOIN funnel f ON f.id = q.funnel_id WHERE q.id = ?",
    [sequence],
  )
  return row?.release ? releaseById(tx, row.release) : undefined
}
