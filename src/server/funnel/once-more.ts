// Somebody waits for the message that a form sends, and asks for it once more.
import { parseAddress } from "@/core/person/address"
import { connectionOf } from "@/core/person/connection"
import { mayTry } from "../attempt"
import { queueWayIn, welcomeToKnock } from "../person/way-in"
import { releaseById } from "../releases"
import type { Surroundings } from "../surroundings"
import { knownHere } from "./join"

/**
 * Sends again what the form sent: the confirmation that is still to be pressed, or the way in for whoever is known. Once in ten
 * minutes, whatever the address; whoever asks is told the same in every case.
 */
export async function askOnceMore(
  s: Surroundings,
  asked: { readonly release: number; readonly email: string; readonly visitor: Buffer; readonly ip: string },
): Promise<void> {
  const address = parseAddress(asked.email)
  const release = await releaseById(s.db, asked.release)
  if (!address || !release) return
  const now = await s.clock.now()
  await s.db.transaction(async (tx) => {
    if (!(await welcomeToKnock(tx, address.canonical, `again:${release.funnel.id}`))) return
    if (!(await mayTry(tx, `join-mail:${connectionOf(asked.ip)}`, { most: 40, windowMs: 3_600_000 }))) return
    const open = await tx.row<{ id: number; email: string; name: string }>(
      "SELECT id, email, name FROM pending_join WHERE canonical = ? AND visitor = ? AND funnel_id = ? AND pressed_at IS NULL AND expires_at > ? ORDER BY id DESC LIMIT 1",
      [address.canonical, asked.visitor, release.funnel.id, new Date(now)],
    )
    if (open) {
      await tx.write(
        "INSERT IGNORE INTO mail (once, kind, to_email, to_name, funnel_id, pending_join_id, due_at, try_at) VALUES (?, 'confirm', ?, ?, ?, ?, ?, ?)",
        [`confirm:${open.id}:again`, open.email, open.name, release.funnel.id, open.id, new Date(now), new Date(0)],
      )
      return
    }
    const known = await knownHere(tx, address.canonical, release)
    if (known) await queueWayIn(tx, { ...known, at: now })
  })
}
