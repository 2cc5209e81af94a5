// What stands at `/`: the first page of a funnel that was chosen, or a front page made from what is live.
import { type HomePage, homePage } from "@/core/page/home"
import { teacherCards } from "@/server/course/teacher"
import { schoolHead } from "@/server/school-view"
import { nextDates } from "@/server/webinar/offered"
import { answerPage } from "./answer"
import type { HttpAnswer, Request } from "./exchange"
import { commonHeaders } from "./policy"
import { type Front, ownPage } from "./reply"

type Kept = Pick<HomePage, "zone" | "teachers"> & { readonly dates: ReadonlyMap<number, number[]>; readonly at: number }

/** What is asked of the database for it, at most so old (ms); while that is away, what was said last. */
const keptFor = 5_000
const kept = new WeakMap<Front, Kept>()

async function asked(front: Front, webinars: readonly number[]): Promise<Kept> {
  const known = kept.get(front)
  if (known && Date.now() - known.at < keptFor) return known
  const { db } = front.s
  try {
    if (!front.live.reachable()) throw new Error("the database is away")
    const now: Kept = {
      zone: (await schoolHead(db)).zone,
      teachers: [...(await teacherCards(db)).values()],
      dates: await nextDates(db, webinars, front.live.now(), dates),
      at: Date.now(),
    }
    kept.set(front, now)
    return now
  } catch {
    return known ?? { zone: "UTC", teachers: [], dates: new Map(), at: 0 }
  }
}

/** How many dates of a webinar are shown. */
const dates = 3

export async function home(front: Front, request: Request): Promise<HttpAnswer | undefined> {
  const school = front.live.school()
  // A school that nobody has opened yet is opened in the studio.
  if (!school.name) return { status: 302, headers: { ...commonHeaders, location: "/studio" }, body: "" }
  const chosen = front.live.front()
  if (chosen !== null) return answerPage(front, { ...request, path: chosen })
  if (request.method === "POST") return undefined
  const begins = front.live.beginnings()
  const offers = front.live.offers()
  const webinars = begins.filter((b) => b.webinar !== null)
  const held = webinars.map((b) => b.webinar!)
  const { zone, teachers, dates: coming } = await asked(front, held)
  const { html, style } = homePage(
    {
      school,
      zone,
      teachers,
      given: begins.filter((b) => b.gives),
      webinars: webinars.map((b) => ({ ...b, dates: coming.get(b.webinar!) ?? [] })),
      courses: begins.flatMap((b) => {
        const offer = b.sells === null ? undefined : offers[b.sells]
        return offer ? [{ ...b, amount: offer.open ? (offer.ways[0]?.amount ?? "") : "", note: offer.note }] : []
      }),
      more: begins.filter((b) => b.recruits),
    },
    front.s.config.origin,
  )
  return ownPage(html, style)
}
