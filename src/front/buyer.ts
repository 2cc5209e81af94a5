// Who is here, as far as this browser shows: somebody signed in, or the device that has just ordered.
import { courseGiven, opensOf } from "@/core/offer/gift/list"
import type { giftsOf } from "@/core/offer/offer"
import type { OrderRow } from "@/server/ledger/order"
import { type Admitted, admittedOf, type Learner, sessionCookie, signedIn } from "@/server/person/session"
import type { Request } from "./exchange"
import type { Front } from "./reply"

/** Who is let in on this device. */
export function admittedAt(front: Front, req: Request): Promise<Admitted | null> {
  return admittedOf(front.s.db, req.cookies[sessionCookie(front.s.config, "learn")])
}

/** Who is signed in on this device; null also for one that is known by an order alone. */
export const learnerAt = async (front: Front, req: Request): Promise<Learner | null> =>
  signedIn(await admittedAt(front, req))

/** How long an order is its device's own, without signing in, ms of business time. */
const deviceOwns = 86_400_000
/** Whether an order still lets its device in. */
export const isFresh = (order: OrderRow, at: number) => at - (order.paid_at ?? order.made_at).getTime() < deviceOwns

/** Where the first course among gifts opens, or else the first file; null where neither is among them. */
export async function opensAt(front: Front, gifts: ReturnType<typeof giftsOf>): Promise<string | null> {
  const course = gifts.map(courseGiven).find((c) => c !== null)
  const row =
    course &&
    (await front.s.db.row<{ slug: string }>("SELECT slug FROM course WHERE id = ? AND state <> 'draft'", [course]))
  if (row) return `/learn/${row.slug}`
  const file = gifts.map(opensOf).find((o) => o !== null && "media" in o)
  return file && "media" in file ? `/learn/file/${file.media}` : null
}
