// What a buyer bought, on the page that welcomes them: only for the device that has just ordered.

import { type Html, html } from "@/core/html"
import { giftsOf } from "@/core/offer/offer"
import { readPlan } from "@/core/offer/plan-document"
import { pastSentence } from "@/core/offer/sentence"
import { proofHtml } from "@/core/page/selling"
import { words } from "@/core/words/en"
import { orderOfVisitor } from "@/server/ledger/further"
import { shelfOf } from "@/server/offer/quote"
import { isFresh, opensAt } from "../buyer"
import type { Request } from "../exchange"
import type { LivePage } from "../live"
import { type Front, visitorOf } from "../reply"
import type { PartMaker, PartOf } from "./part"

export const proof: PartMaker<PartOf<"proof">> = { make: proofOf }

async function proofOf(front: Front, req: Request, page: LivePage): Promise<Html> {
  const { s } = front
  const order = await orderOfVisitor(s.db, page.funnel, visitorOf(front, req).id, null)
  if (!order || !isFresh(order, await s.clock.now())) return html``
  const lines = await s.db.rows<{ order_id: number; name: string; offer_id: number; plan: string }>(
    "SELECT l.order_id, l.name, l.offer_id, l.plan FROM order_line l JOIN orders o ON o.id = l.order_id WHERE (o.id = ? OR o.first_id = ?) AND o.state = 'paid' ORDER BY l.id",
    [order.id, order.id],
  )
  const shelf = await shelfOf(s.db)
  const giftsIn = (l: { readonly offer_id: number }) => {
    const offer = shelf.offers.get(l.offer_id)
    return offer ? giftsOf(offer, shelf.offers) : []
  }
  const opened = new Map<number, string | null>()
  for (const l of lines) opened.set(l.offer_id, await opensAt(front, giftsIn(l)))
  return proofHtml({
    orders: [...new Set(lines.map((l) => l.order_id))].map((id) => {
      const of = lines.filter((l) => l.order_id === id)
      return {
        number: String(id),
        bought: of.map((l) => ({ name: l.name, href: opened.get(l.offer_id) ?? null })),
        sentence: pastSentence(of.map((l) => readPlan(l.plan))),
      }
    }),
    email: order.email,
    open: { href: (await opensAt(front, lines.flatMap(giftsIn))) ?? "/learn", says: words.proof.open },
  })
}
