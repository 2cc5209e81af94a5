// "New funnel": the whole thing from a course, wired, written and ready to have its words changed.

import * as v from "valibot"
import {
  affiliatesFunnel,
  catalogueFunnel,
  courseSaleFunnel,
  miniCourseFunnel,
  webinarFunnel,
} from "@/core/funnel/recipe"
import { freeSlug, reserved, slugOf } from "@/core/funnel/slug"
import { courseGiven } from "@/core/offer/gift/list"
import { giftsOf } from "@/core/offer/offer"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { takenPaths } from "../free-address"
import { checkoutPaths } from "../offer/link"
import { loadOffers } from "../offer/offer"
import { programmeOf } from "../programme/programme"
import type { Refused } from "../saved"
import { id } from "../saved"
import { schoolRow } from "../school-view"
import { readWebinar } from "../webinar/webinar"
import { loadFunnel } from "./load"
import { storeFunnel } from "./store"
import { writeWebinarMails } from "./webinar-mails"

const input = v.variant("goal", [
  v.object({ goal: v.literal("mini-course"), course: id }),
  v.object({ goal: v.literal("sell-course"), offer: id, further: v.nullable(id), second: v.nullable(id) }),
  v.object({ goal: v.literal("fill-webinar"), webinar: id }),
  v.object({ goal: v.literal("affiliates"), offer: id }),
  v.object({ goal: v.literal("catalogue") }),
])

export async function newFunnel(s: Context, asked: unknown): Promise<{ funnel: number } | Refused> {
  const read = v.safeParse(input, asked)
  if (!read.success) return { refused: refusals.funnel.newFunnel }
  const asks = read.output
  const at = await s.clock.now()
  if (asks.goal === "affiliates") return forAffiliates(s, asks.offer, at)
  if (asks.goal === "catalogue") return forCatalogue(s, at)
  return s.db.transaction(async (tx) => {
    const offers = await loadOffers(tx)
    const webinar = asks.goal === "fill-webinar" ? (await readWebinar(tx, asks.webinar))?.value : undefined
    if (asks.goal === "fill-webinar" && !webinar) return { refused: refusals.gone.thing }
    if (webinar && webinar.offer === null) return { refused: refusals.funnel.webinarLeadsNowhere(webinar.title) }
    const offer =
      asks.goal === "sell-course" ? offers.get(asks.offer) : webinar ? offers.get(webinar.offer!) : undefined
    const sold = offer && giftsOf(offer, offers).flatMap((g) => courseGiven(g) ?? [])[0]
    if (asks.goal !== "mini-course" && !offer) return { refused: refusals.gone.offer }
    if (offer && giftsOf(offer, offers).length === 0) return { refused: refusals.funnel.givesNothing(offer.publicName) }
    const about = asks.goal === "mini-course" ? asks.course : sold
    const course = about === undefined ? null : ((await courseForRecipe(tx, about)) ?? null)
    if (about !== undefined && !course) return { refused: refusals.gone.course }
    if (course?.lessons.length === 0) return { refused: refusals.funnel.noLesson(course.title) }
    const base = freeSlug(
      slugOf(
        // What is sold is an offer: two offers of one course are two funnels.
        webinar?.title ?? offer?.publicName ?? course!.title,
        webinar ? "webinar" : offer ? "offer" : "mini-course",
      ),
      await takenFirsts(tx),
    )
    const extra = (id: number | null) => (id === null ? null : (offers.get(id) ?? null))
    const draft =
      asks.goal === "mini-course"
        ? miniCourseFunnel(course!, base)
        : asks.goal === "fill-webinar"
          ? webinarFunnel(webinar!, asks.webinar, { course, offer: offer!, further: null, second: null }, base)
          : courseSaleFunnel({ course, offer: offer!, further: extra(asks.further), second: extra(asks.second) }, base)
    const { funnel } = await storeFunnel(tx, null, draft, at)
    if (webinar && asks.goal === "fill-webinar") {
      const stored = await loadFunnel(tx, funnel)
      const refused = await writeWebinarMails(
        { ...s, db: { ...s.db, ...tx } },
        { id: asks.webinar, value: webinar },
        { id: offer!.id, name: offer!.publicName },
        stored!,
      )
      if (refused) return refused
    }
    return { funnel }
  })
}

/** A catalogue of what there is now: courses that are no drafts, and what is sold on a page of its own and gives none of them. */
async function forCatalogue(s: Context, at: number): Promise<{ funnel: number }> {
  return s.db.transaction(async (tx) => {
    const school = await schoolRow(tx)
    const offers = await loadOffers(tx)
    const courses = await tx.rows<{ id: number }>("SELECT id FROM course WHERE state <> 'draft' ORDER BY id LIMIT 60")
    const sold = await checkoutPaths(tx)
    const alone = [...offers.values()].filter(
      (o) => sold.has(o.id) && !giftsOf(o, offers).some((g) => courseGiven(g) !== null),
    )
    const items = [...courses.map(({ id }) => ({ course: id })), ...alone.map(({ id }) => ({ offer: id }))].slice(0, 60)
    const draft = catalogueFunnel(school?.name ?? "", items, freeSlug("catalogue", await takenFirsts(tx)))
    const { funnel } = await storeFunnel(tx, null, draft, at)
    return { funnel }
  })
}

/** What no address may begin with. */
const takenFirsts = async (tx: Db) =>
  new Set([...reserved, ...(await takenPaths(tx)).map((path) => path.split("/")[0]!)])

/** The page on which affiliates of an offer sign up, and where it leads. */
async function forAffiliates(s: Context, id: number, at: number): Promise<{ funnel: number } | Refused> {
  return s.db.transaction(async (tx) => {
    const offer = (await loadOffers(tx)).get(id)
    const programme = await programmeOf(tx, id)
    if (!offer || !programme) return { refused: refusals.gone.offer }
    const base = freeSlug(slugOf(`recommend-${slugOf(offer.publicName, "it")}`, "recommend"), await takenFirsts(tx))
    const { funnel } = await storeFunnel(tx, null, affiliatesFunnel(offer, programme.about, base), at)
    return { funnel }
  })
}
