// Whether a broadcast reached somebody, and why not.
import { type Miss, missSays } from "@/core/mail/miss"
import { refsOfSegment, segmentSays } from "@/core/person/segment/segment"
import type { Context } from "../context"
import { personAt, type Reached } from "../mail/reached"
import { withoutSince } from "../mail/unsubscribe"
import { namesOf } from "../names"
import { isPersonIn } from "../person/segment"
import { gone, type Refused } from "../saved"
import { schoolZone } from "../school-view"
import { readBroadcast } from "./store"

/** Looks somebody up by any address of theirs. */
export async function reached(s: Context, broadcast: number, typed: string): Promise<Reached | Refused> {
  const b = await readBroadcast(s.db, broadcast)
  if (!b?.planned) return gone
  const who = await personAt(s.db, typed)
  if ("refused" in who) return who
  const mail = await s.db.row<{ id: number }>(
    "SELECT id FROM mail WHERE person_id = ? AND broadcast_id = ? ORDER BY id DESC LIMIT 1",
    [who.id, broadcast],
  )
  if (mail) return { person: who.id, mail: mail.id, says: [] }

  const first = await s.db.row<{ id: number; why: "left" | "undeliverable" | null; at: Date | null }>(
    "SELECT a.id, a.suppressed AS why, a.suppressed_at AS at FROM address a JOIN person p ON p.id = a.person_id AND p.email = a.email WHERE p.id = ?",
    [who.id],
  )
  const consent = await s.db.row<{ kind: string; at: Date }>(
    "SELECT kind, at FROM consent WHERE address_id = ? AND at <= ? ORDER BY at DESC, id DESC LIMIT 1",
    [first?.id ?? 0, b.planned],
  )
  const without = await withoutSince(s.db, who.id, "broadcasts")
  const { to, less } = b.document
  const now = await s.clock.now()
  const name = await namesOf(s.db, [...refsOfSegment(to), ...(less ? refsOfSegment(less) : [])])
  const miss: Miss = {
    planned: b.planned.getTime(),
    joined: who.joined.getTime(),
    suppressed: first?.why ? { why: first.why, at: first.at?.getTime() ?? null } : null,
    consent: consent ? { given: consent.kind === "given", at: consent.at.getTime() } : null,
    without,
    among: await isPersonIn(s.db, to, who.id, now),
    leftOut: less !== null && (await isPersonIn(s.db, less, who.id, now)),
    to: segmentSays(to, name),
    less: less ? segmentSays(less, name) : "",
  }
  return { person: who.id, mail: null, says: missSays(miss, await schoolZone(s.db)) }
}
