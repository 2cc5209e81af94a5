// The order's own page: it asks how the charge stands, and leads on.

import { addressOf } from "@/core/funnel/address"
import { may } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { ask } from "@/server/ledger/charge"
import { firstOrderOf, type OrderRow, orderByCode } from "@/server/ledger/order"
import { wayOn } from "@/server/ledger/way-on"
import { actorOf, admitDevice, sessionCookie } from "@/server/person/session"
import { releaseById } from "@/server/releases"
import { admittedAt, isFresh } from "./buyer"
import type { HttpAnswer, Request } from "./exchange"
import { commonHeaders } from "./policy"
import { type Front, plainAnswer, redirect, sessionHeader } from "./reply"

/** The order's own page: it asks how the charge stands, and leads on. */
export async function orderPage(
  front: Front,
  req: Request,
  code: string,
  visitor: Buffer | null,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  req.mustEnd()
  let order = await orderByCode(s.db, code)
  if (!order) return undefined
  const who = await admittedAt(front, req)
  const same = visitor?.equals(order.visitor) === true && isFresh(order, await s.clock.now())
  if (!same && !may(actorOf(who), "see orders of", { person: order.person_id }))
    return plainAnswer(front, 403, {
      title: words.checkout.foreign,
      paragraphs: [words.checkout.foreignText],
      links: [{ href: "/learn/sign-in", says: words.checkout.signIn }],
    })
  if (order.state === "open" || order.state === "confirming") {
    const charge = await s.db.row<{ id: number; state: string; confirm: string | null; settled: number }>(
      "SELECT id, state, confirm, ask_at < ? AS settled FROM charge WHERE order_id = ? ORDER BY id DESC LIMIT 1",
      [new Date(Date.now() + 17_000), order.id],
    )
    const back = req.query.has("back")
    if (charge?.state === "confirming" && charge.confirm && !back)
      return {
        status: 303,
        headers: { ...commonHeaders, location: charge.confirm, "cache-control": "no-store" },
        body: "",
      }
    if (charge && (back || charge.settled)) await ask(s, charge.id)
    order = (await orderByCode(s.db, code))!
    if (order.state === "confirming" && charge?.confirm)
      return {
        status: 303,
        headers: { ...commonHeaders, location: charge.confirm, "cache-control": "no-store" },
        body: "",
      }
  }
  switch (order.state) {
    case "paid":
    case "refunded": {
      const token = same
        ? await admitDevice(s.db, req.cookies[sessionCookie(s.config, "learn")], {
            person: order.person_id!,
            order: firstOrderOf(order),
          })
        : null
      const headers: Record<string, string> = token ? { "set-cookie": sessionHeader(s.config, "learn", token) } : {}
      return redirect(await wayOn(s.db, order, await s.clock.now()), headers)
    }
    case "refused":
      return redirect(await backTo(front, order))
    case "lapsed":
    case "begun":
      return plainAnswer(front, 200, {
        title: words.checkout.lapsed,
        paragraphs: [words.checkout.lapsedText],
        links: [{ href: (await backTo(front, order)).split("?")[0]!, says: words.checkout.again }],
      })
    default:
      return plainAnswer(
        front,
        200,
        { title: words.checkout.waiting, paragraphs: [words.checkout.waitingText] },
        { refresh: `3; url=/order/${code}` },
      )
  }
}

/** The page an order was placed on, with word of what went wrong. */
async function backTo(front: Front, order: OrderRow): Promise<string> {
  const release = order.release_id === null ? undefined : await releaseById(front.s.db, order.release_id)
  const step = release?.funnel.steps.find((x) => x.id === order.step_id)
  return release && step ? `${addressOf(release.funnel, step)}?order=${order.code}` : "/learn"
}
