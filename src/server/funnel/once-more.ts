// Somebody waits for the message that a form sends, and asks for it once more.

import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { mayTry } from "../attempt"
import type { Context } from "../context"
import { mayMailAddress, queueWayIn } from "../person/way-in"
import { queueMail } from "../queue-mail"
import { releaseById } from "../releases"
import { knownHere } from "./known"

/**
 * Sends again what the form sent: the confirmation that is still to be pressed, or the way in for whoever is known. Once in ten
 * minutes, whatever the address; whoever asks is told the same in every case.
 */
export async function askOnceMore(
  s: Context,
  asked: { readonly release: number; readonly email: string; readonly visitor: Buffer; readonly ip: string },
): Promise<void> {
  const address = parseAddress(asked.email)
  const release = await releaseById(s.db, asked.release)
  if (!address || !release) return
  const now = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (!(await mayMailAddress(tx, address.canonical, `again:${release.funnel.id}`))) return
    if (!(await mayTry(tx, `join-mail:${connectionOf(asked.ip)}`, { most: 40, windowMs: 3_600_000 }))) return
    const open = await tx.row<{ id: number; email: string; name: string }>(
      "SELECT id, email, name FROM pending_join WHERE canonical = ? AND visitor = ? AND funnel_id = ? AND pressed_at IS NULL AND expires_at > ? ORDER BY id DESC LIMIT 1",
      [address.canonical, asked.visitor, release.funnel.id, new Date(now)],
    )
    if (open) {
      await queueMail(tx, {
        once: `confirm:${open.id}:again`,
        kind: "confirm",
        to_email: open.email,
        to_name: open.name,
        funnel_id: release.funnel.id,
        pending_join_id: open.id,
        due_at: new Date(now),
      })
      return
    }
    const known = await knownHere(tx, address.canonical, release)
    if (known) await queueWayIn(tx, { ...known, at: now })
  })
}
