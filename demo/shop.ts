// What Juniper Crock sells: courses, offers, coupons, and the funnel that leads through them. Written through the same use
// cases as the studio's.

import type { Step } from "@/core/funnel/draft"
import type { Terms } from "@/core/offer/terms"
import type { Block } from "@/core/page/document"
import { holding } from "@/core/page/walk"
import type { Context } from "@/server/context"
import { savePage } from "@/server/funnel/edit"
import { loadFunnel } from "@/server/funnel/load"
import { newFunnel } from "@/server/funnel/new-funnel"
import { publishFunnel } from "@/server/funnel/release"
import { insertStep } from "@/server/funnel/steps"
import { makeCoupon } from "@/server/offer/coupon"
import { type OfferInput, saveOffer } from "@/server/offer/offer"
import { answers, firstCrock, rootsQuiz, rootsWork, shopCourses } from "./lessons"

const day = 86_400_000

export type DemoShop = {
  readonly funnel: number
  readonly release: number
  /** A picture of what is sold. */
  readonly picture: number
  readonly coupons: readonly { readonly code: string; readonly source: string }[]
}

export async function openDemoShop(
  s: Context,
  now: number,
  media: { readonly pictures: readonly number[]; readonly chart: number },
): Promise<DemoShop> {
  await s.db.write(
    "UPDATE school SET currency = 'EUR', tax_rate = 2500, tax_included = 1, statement = 'JUNIPER CROCK' WHERE id = 1",
  )
  const courses: number[] = []
  for (const [i, c] of shopCourses.entries()) courses.push(await writeCourse(s, c, media.pictures[i] ?? null))
  const [year, koji, clinic, shelf] = courses as [number, number, number, number]
  const offer = (
    input: Partial<OfferInput> & Pick<OfferInput, "publicName" | "promise" | "gifts">,
    ways: [string, Terms][],
  ) =>
    made(
      saveOffer(s, {
        id: null,
        internalName: "",
        pictureId: null,
        currency: "EUR",
        terms: ways.map(([name, terms]) => ({ id: null, name, terms })),
        pieces: null,
        perPerson: null,
        from: null,
        until: null,
        hidden: false,
        afterFailure: "ends",
        ...input,
      }),
    )
  const monthly = { unit: "month", count: 1 } as const
  const main = await offer(
    {
      publicName: "A Year in Ferments",
      pictureId: media.pictures[0] ?? null,
      refundDays: 30,
      promise: shopCourses[0]!.promise,
      gifts: [{ kind: "course", course: year }],
    },
    [
      ["All at once", { kind: "full", amount: 29_000 }],
      ["In four parts", { kind: "instalments", upFront: 0, amount: 7_900, times: 4, every: monthly }],
    ],
  )
  const tray = await offer(
    {
      publicName: "The Koji Tray",
      pictureId: media.pictures[1] ?? null,
      promise: "Three weekends with one tray, from the first spores to a miso of your own",
      gifts: [{ kind: "course", course: koji }],
    },
    [["", { kind: "full", amount: 6_400 }]],
  )
  const brine = await offer(
    {
      publicName: "Brine Clinic",
      promise: "Bring the jar that worries you: nine cases, what went wrong, and what to do",
      gifts: [{ kind: "course", course: clinic }],
    },
    [["", { kind: "full", amount: 2_900 }]],
  )
  const membership = await offer(
    {
      publicName: "The Cold Shelf",
      promise: "A new crock each month with all the others on the shelf, and Maren on Thursdays",
      gifts: [{ kind: "course", course: shelf }],
    },
    [
      [
        "",
        {
          kind: "subscription",
          upFront: 0,
          trial: { length: 1, unit: "month", amount: 0 },
          amount: 1_900,
          every: monthly,
          times: null,
        },
      ],
    ],
  )
  const chart = await offer(
    {
      publicName: "The Brine Chart",
      promise: "One sheet for the inside of a cupboard door: salt, days, degrees",
      gifts: [{ kind: "file", media: media.chart }],
    },
    [["", { kind: "full", amount: 900 }]],
  )
  await offer(
    {
      publicName: "Year and crock",
      internalName: "Year and crock (garden fair)",
      promise: "The whole year, and a stoneware crock of three litres sent to your door",
      gifts: [
        { kind: "offer", offer: main },
        { kind: "post", title: "A stoneware crock of three litres" },
      ],
      pieces: 40,
      perPerson: 1,
      until: now + 26 * day,
      hidden: true,
    },
    [["", { kind: "full", amount: 36_900 }]],
  )
  const coupon = (code: string, givenOut: string, more: object) =>
    made(
      makeCoupon(s, {
        code,
        givenOut,
        kind: "percent",
        value: 1000,
        currency: null,
        on: "all",
        offers: [main],
        from: null,
        until: null,
        usesInAll: null,
        usesPerPerson: 1,
        ...more,
      }),
    )
  await coupon("BRINE10", "garden letter, the footer", {})
  await coupon("MICROPHONE", "podcast guest spot", { kind: "amount", value: 2_500, currency: "EUR", on: "first" })
  await coupon("OPENDOOR", "open day in Fernvik", { value: 2000, on: "first", until: now - 90 * day, usesInAll: 60 })

  const funnel = await newFunnel(s, { goal: "sell-course", offer: main, further: tray, second: brine })
  if (!("funnel" in funnel)) throw new Error(funnel.refused)
  await s.db.write("UPDATE step SET path = REPLACE(path, 'a-year-in-ferments', 'a-year') WHERE funnel_id = ?", [
    funnel.funnel,
  ])
  const draft = (await loadFunnel(s.db, funnel.funnel))!
  const step = (path: string) => draft.steps.find((x) => x.path.endsWith(path))!
  const placed = await insertStep(s, {
    after: step("/one-more-thing").id,
    outcome: "accepted",
    kind: "further",
    offer: membership,
  })
  if ("refused" in placed) throw new Error(placed.refused)
  await s.db.write("DELETE FROM funnel_before WHERE funnel_id = ?", [funnel.funnel])
  const checkout = step("/checkout")
  const page = JSON.stringify(checkout.page).replace(
    '"bumps":[]',
    `"bumps":[{"offer":${chart},"says":"To hang up beside the crocks."}]`,
  )
  await answerQuestions(s, { id: checkout.id, page: JSON.parse(page) })
  const sales = draft.steps.find((x) => x.kind === "sales")!
  const joined: Block = { id: "joined", kind: "figures", course: year, show: ["learners", "rating", "names"] }
  const blocks = sales.page!.blocks.flatMap((b) => (b.id === "costhead" ? [joined, b] : [b]))
  await answerQuestions(s, { id: sales.id, page: { ...sales.page!, blocks } })
  // A benchmark fills the demo without a card processor beside it; that is all preflight may find.
  const published = await publishFunnel(s, funnel.funnel, s.cards === null)
  if (!("release" in published))
    throw new Error(`${published.refused} ${published.findings.map((f) => f.suffers).join(" ")}`)
  return {
    funnel: funnel.funnel,
    release: published.release,
    picture: media.pictures[0]!,
    coupons: [
      { code: "BRINE10", source: "garden letter" },
      { code: "MICROPHONE", source: "podcast guest spot" },
    ],
  }
}

/** A page with what only the school knows. */
async function answerQuestions(s: Context, sales: Pick<Step, "id" | "page">): Promise<void> {
  const answer = (b: Block): Block =>
    holding(
      b.kind === "questions"
        ? { ...b, items: b.items.map((i) => ({ ...i, says: i.says || (answers[i.asks] ?? "") })) }
        : b,
      (held) => held.map(answer),
    )
  const saved = await savePage(s, sales.id, 1, { ...sales.page!, blocks: sales.page!.blocks.map(answer) })
  if ("refused" in saved) throw new Error(saved.refused)
}

async function made(work: Promise<{ ok: true; id: number } | { refused: string }>): Promise<number> {
  const done = await work
  if ("refused" in done) throw new Error(done.refused)
  return done.id
}

async function writeCourse(s: Context, c: (typeof shopCourses)[number], picture: number | null): Promise<number> {
  const at = new Date(await s.clock.now())
  const course = await s.db.write(
    "INSERT INTO course (slug, title, promise, promises, teacher, picture_id, state, made_at, changed_at) VALUES (?, ?, ?, ?, ?, ?, 'live', ?, ?)",
    [
      c.slug,
      c.title,
      c.promise,
      JSON.stringify("promises" in c ? c.promises : []),
      firstCrock.teacher,
      picture,
      at,
      at,
    ],
  )
  for (const [i, l] of c.lessons.entries()) {
    const module = c.monthly ? await writeMonth(s, course.id, l.title, i) : null
    const text = { id: "text", kind: "text", html: `<p>${l.says}</p>` }
    const first = c.monthly && i === 0
    const page = { version: 1, title: l.title, blocks: first ? [text, rootsQuiz, rootsWork] : [text] }
    await s.db.write(
      "INSERT INTO lesson (course_id, module_id, position, title, page, body, minutes, free, state) VALUES (?, ?, ?, ?, ?, '', ?, ?, 'live')",
      [course.id, module, 2 * i + 2, l.title, JSON.stringify(page), l.minutes, c.monthly && i === 4],
    )
  }
  return course.id
}

/** A module for a month, which opens so many months after the first. */
async function writeMonth(s: Context, course: number, lesson: string, i: number): Promise<number> {
  const opens = i === 0 ? null : JSON.stringify({ kind: "after-days", days: 30 * i, at: "06:00" })
  const [month] = lesson.split(":")
  const made = await s.db.write("INSERT INTO module (course_id, position, title, opens) VALUES (?, ?, ?, ?)", [
    course,
    2 * i + 1,
    month,
    opens,
  ])
  return made.id
}

/** What there is, beside each other; for two courses that are sold with another alone, people wait. */
export async function openCatalogue(s: Context): Promise<void> {
  const made = await newFunnel(s, { goal: "catalogue" })
  if ("refused" in made) throw new Error(made.refused)
  const published = await publishFunnel(s, made.funnel, s.cards === null)
  if ("refused" in published) throw new Error(published.refused)
  await s.db.write(
    `INSERT INTO waiting (person_id, course_id, page, since_at)
     SELECT p.id, c.id, '/catalogue', p.joined_at FROM person p JOIN course c ON c.slug = 'the-koji-tray'
     WHERE p.id MOD 97 = 0 AND NOT EXISTS (SELECT 1 FROM admission a WHERE a.person_id = p.id AND a.course_id = c.id)`,
  )
}
