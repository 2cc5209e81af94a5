import { beginningOf } from "@/core/funnel/address"
import { amountText } from "@/core/offer/amount"
// A further offer as its buyer meets it: accepted with one click, declined with one.

import { addressOf } from "@/core/funnel/address"
import type { Step } from "@/core/funnel/draft"
import { dueToday } from "@/core/offer/plan"
import { decisionHtml } from "@/core/page/selling"
import { may } from "@/core/person/actor"
import { words } from "@/core/words/en"
import { acceptOffer, declineOffer, type Offered, offeredTo, orderOfVisitor } from "@/server/ledger/further"
import { orderByCode } from "@/server/ledger/order"
import { costWords } from "@/server/offer/shown"
import { actorOf, signedIn } from "@/server/person/session"
import { releaseById } from "@/server/releases"
import { admittedAt } from "../buyer"
import type { HttpAnswer, Request } from "../exchange"
import type { LivePage } from "../live"
import { renderPage } from "../render-page"
import { type Front, isForged, redirect, type Visitor } from "../reply"
import type { FrontStep } from "./step"

export const further: FrontStep = {
  async look(front, req, page, visitor) {
    const release = await releaseById(front.s.db, page.release)
    const step = release?.funnel.steps.find((x) => x.id === page.step)
    return step && showFurther(front, req, page, visitor, step)
  },
  post: (front, req, page, visitor, fields) =>
    isForged(req) ? Promise.resolve(undefined) : postFurther(front, req, page, visitor, fields),
}

async function showFurther(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  step: Step,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  const who = await admittedAt(front, req)
  const order = await orderOfVisitor(s.db, page.funnel, visitor.id, signedIn(who)?.person ?? null)
  if (!order) return redirect(await toBeginning(front, page))
  const offered = await offeredTo(s, order, step.id)
  if ("goTo" in offered) return redirect(offered.goTo)
  return furtherPage(front, req, page, offered, null, 200)
}

/** Whoever opens a further offer without having bought is led to where the funnel begins. */
async function toBeginning(front: Front, page: LivePage): Promise<string> {
  const release = await releaseById(front.s.db, page.release)
  const first = release && beginningOf(release.funnel)
  return release && first ? addressOf(release.funnel, first) : "/learn"
}

function furtherPage(
  front: Front,
  req: Request,
  page: LivePage,
  offered: Offered,
  says: string | null,
  status: number,
): Promise<HttpAnswer> {
  const { quote: q, order } = offered
  const amount = dueToday(q.lines[0]!.plan).gross
  return renderPage(front, req, page, status, {
    decision(p) {
      const block = page.decisions.get(p.block)
      return decisionHtml({
        action: `/${page.page.path}`,
        order: order.code,
        sentence: q.sentence,
        amount: amountText(q.lines[0]!.plan),
        seen: q.seen,
        accept: (block?.accept ?? "") + costWords(amount, q.currency, q.needsCard),
        decline: block?.decline ?? "",
        error: says ?? offered.says,
      })
    },
  })
}

/** Yes or no to a further offer: only from the device that ordered, or after sign-in. */
async function postFurther(
  front: Front,
  req: Request,
  page: LivePage,
  visitor: Visitor,
  fields: Readonly<Record<string, string>>,
): Promise<HttpAnswer | undefined> {
  const { s } = front
  const order = await orderByCode(s.db, fields.order ?? "")
  const who = await admittedAt(front, req)
  const theirs =
    order && (order.visitor.equals(visitor.id) || may(actorOf(who), "see orders of", { person: order.person_id }))
  if (!theirs) return redirect(await toBeginning(front, page))
  if (fields.say === "declined") return redirect((await declineOffer(s, order.code, page.step)).goTo)
  if (fields.say !== "accepted") return redirect(`/${page.page.path}`)
  req.mustEnd()
  const done = await acceptOffer(s, order.code, page.step, fields.seen ?? "")
  if ("goTo" in done) return redirect(done.goTo)
  const again = await offeredTo(s, order, page.step)
  return "goTo" in again ? redirect(again.goTo) : furtherPage(front, req, page, again, words.further.changed, 409)
}
