// Whoever recommends Juniper Crock: nine food writers and learners, a year of links that were followed, sales that counted for them,
// three payouts behind and one that waits to be paid. What counts, earns and pays is the school's own doing.

import { lessonPage } from "@/core/page/lesson"
import { affiliateById, changeAffiliate, setOwnRate } from "@/server/affiliate/affiliate"
import { allowBonus, chooseBonus } from "@/server/affiliate/bonus"
import { addAffiliate } from "@/server/affiliate/come"
import { settleOrder } from "@/server/affiliate/commission"
import { attachMentions, type NewMention, recordMentions } from "@/server/affiliate/mention"
import { makePayout, markPaid, previewPayout } from "@/server/affiliate/payout"
import { payouts } from "@/server/affiliate/payout-after"
import { saveAffiliateRules } from "@/server/affiliate/rules"
import { countSale } from "@/server/affiliate/sale"
import type { Context } from "@/server/context"
import type { LessonRow } from "@/server/course/course"
import { saveLessonPage } from "@/server/course/lesson-page"
import { newFunnel } from "@/server/funnel/new-funnel"
import { addOnOccasion } from "@/server/funnel/occasion"
import { publishFunnel } from "@/server/funnel/release"
import { makeCoupon } from "@/server/offer/coupon"
import { firstProgramme, publishConditions, saveMaterial, saveProgramme } from "@/server/programme/programme"
import { conditions, recommenders, words } from "./recommenders"
import { type Seeded, seeded } from "./seeded"

const day = 86_400_000

export type Recommended = {
  /** The funnel that sells, and the one that gives the mini-course away. */
  readonly sale: number
  readonly free: number
  readonly picture: number
}

function must<T extends object>(done: T): Exclude<T, { refused: string }> {
  if ("refused" in done) throw new Error(String((done as { refused: unknown }).refused))
  return done as Exclude<T, { refused: string }>
}

/** To be called before what happened is rolled up: journeys that began by a link say so. */
export async function makeAffiliates(s: Context, r: Recommended, now: number): Promise<void> {
  const at = (ago: number): Context => ({ ...s, clock: { now: async () => now - ago * day } })
  const random = seeded(1109)
  const one = async (sql: string) => (await s.db.row<{ id: number }>(sql))!.id
  const offer = await one("SELECT id FROM offer WHERE public_name = 'A Year in Ferments'")
  const chart = await one("SELECT m.id FROM media m WHERE m.kind = 'file' ORDER BY m.id LIMIT 1")
  must(
    await saveAffiliateRules(at(362), {
      days: 30,
      which: "last",
      consent: "not-needed",
      dueDays: 30,
      least: 2_000,
      payDays: [1],
      withTax: false,
      holder: "Juniper Crock",
      iban: "NO9386011117947",
      bic: "",
      notePrefix: "CN",
    }),
  )
  must(
    await saveProgramme(at(362), offer, {
      ...firstProgramme,
      on: true,
      steps: [{ from: 6, rate: 3500 }],
      about: words.about,
    }),
  )
  must(await publishConditions(at(362), offer, conditions))
  for (const m of words.letters)
    must(await saveMaterial(at(360), offer, { id: null, kind: "words", media: null, step: null, ...m }))
  must(
    await saveMaterial(at(360), offer, {
      id: null,
      kind: "picture",
      title: "Jars on the shelf",
      words: "",
      media: r.picture,
      step: null,
    }),
  )
  const bonus = must(await allowBonus(at(300), offer, { course: null, lesson: null, media: chart }))

  const ids: number[] = []
  for (const [i, a] of recommenders.entries()) {
    const buyer =
      a.email === null
        ? await s.db.row<{ email: string; name: string }>(
            "SELECT o.email, o.name FROM orders o WHERE o.state = 'paid' AND o.first_id IS NULL AND o.name <> '' ORDER BY o.id LIMIT 1 OFFSET ?",
            [i],
          )
        : { email: a.email, name: a.name }
    if (!buyer) continue
    const made = must(
      await addAffiliate(at(a.ago), { email: buyer.email, name: buyer.name, offer, atOnce: a.state === "active" }),
    )
    ids.push(made.id)
    if (a.state === "asked")
      await s.db.write("UPDATE affiliate SET state = 'asked', source = 'page' WHERE id = ?", [made.id])
    must(
      await changeAffiliate(at(a.ago), made.id, {
        name: buyer.name,
        shown: a.shown,
        code: a.code ?? (await affiliateById(s.db, made.id))!.code,
      }),
    )
    if (a.iban)
      await s.db.write("UPDATE affiliate SET holder = ?, iban = ?, postal = ?, bank_at = ? WHERE id = ?", [
        a.holder ?? buyer.name,
        a.iban,
        a.postal ?? "",
        new Date(now - (a.ago - 3) * day),
        made.id,
      ])
  }
  // What invited them then is not mailed today.
  await s.db.write("DELETE FROM mail WHERE kind IN ('affiliate-invited', 'affiliate-approved')")
  must(await setOwnRate(at(200), ids[0]!, offer, { kind: "percent", value: 4000 }))
  must(await chooseBonus(at(200), ids[1] ?? ids[0]!, bonus.id, true))
  const coupon = must(
    await makeCoupon(at(200), {
      code: "IDA10",
      givenOut: "Ida's Sunday letter",
      kind: "percent",
      value: 1000,
      currency: null,
      on: "first",
      offers: [offer],
      from: null,
      until: null,
      usesInAll: null,
      usesPerPerson: 1,
    }),
  )
  await s.db.write("UPDATE coupon SET affiliate_id = ? WHERE id = ?", [ids[0], coupon.id])

  await joinByLinks(s, r, ids, random)
  await buyByLinks(s, r, ids, random, now)
  await otherClicks(s, ids, random, now)
  await askAtTheRightMoment(s, offer)
  await signUpPage(at(359), offer)
  await payOut(s, now)
}

/** Draws an affiliate, those who have most readers most often, who could recommend by then. */
function drawn(random: Seeded, ids: readonly number[], ago: number): { id: number; sub: string } | null {
  const could = recommenders.flatMap((a, i) =>
    a.state === "active" && ids[i] && a.ago > ago + 2 ? [{ a, id: ids[i]! }] : [],
  )
  const sum = could.reduce((n, c) => n + c.a.readers, 0)
  let at = random() * sum
  for (const c of could) {
    at -= c.a.readers
    if (at <= 0) return { id: c.id, sub: random.pick(c.a.places) }
  }
  return null
}

/** One of nine who took the mini-course came by a link. */
async function joinByLinks(s: Context, r: Recommended, ids: readonly number[], random: Seeded): Promise<void> {
  const journeys = await s.db.rows<{ visitor: Buffer; person: number | null; begun: Date; step: number }>(
    `SELECT j.visitor, j.person_id AS person, j.begun_at AS begun, (SELECT MIN(id) FROM step WHERE funnel_id = j.funnel_id) AS step FROM journey j WHERE j.funnel_id = ? ORDER BY j.begun_at, j.visitor`,
    [r.free],
  )
  const now = await s.clock.now()
  const mentions: NewMention[] = []
  const named = new Map<number, Buffer[]>()
  for (const j of journeys) {
    if (!random.chance(0.11)) continue
    const who = drawn(random, ids, (now - j.begun.getTime()) / day)
    if (!who) continue
    mentions.push({ affiliate: who.id, sub: who.sub, step: j.step, visitor: j.visitor, at: j.begun.getTime() })
    named.set(who.id, [...(named.get(who.id) ?? []), j.visitor])
    if (j.person !== null)
      await s.db.write("INSERT IGNORE INTO affiliate_join (person_id, affiliate_id, sub, at) VALUES (?, ?, ?, ?)", [
        j.person,
        who.id,
        who.sub,
        new Date(j.begun.getTime() + 600_000),
      ])
  }
  await put(s, mentions)
  await nameSources(s, r.free, named)
}

/** One of six who bought had followed a link within the month before, some of them two. */
async function buyByLinks(
  s: Context,
  r: Recommended,
  ids: readonly number[],
  random: Seeded,
  now: number,
): Promise<void> {
  const orders = await s.db.rows<{ id: number; visitor: Buffer; person: number; paid: Date; step: number }>(
    `SELECT o.id, o.visitor, o.person_id AS person, o.paid_at AS paid, (SELECT MIN(id) FROM step WHERE funnel_id = o.funnel_id) AS step
     FROM orders o WHERE o.funnel_id = ? AND o.first_id IS NULL AND o.state IN ('paid', 'refunded') AND o.person_id IS NOT NULL ORDER BY o.paid_at, o.id`,
    [r.sale],
  )
  const named = new Map<number, Buffer[]>()
  for (const o of orders) {
    if (!random.chance(0.17)) continue
    const paid = o.paid.getTime()
    const who = drawn(random, ids, (now - paid) / day)
    if (!who) continue
    const ago = random() ** 2 * 26 * day
    const mentions: NewMention[] = [
      { affiliate: who.id, sub: who.sub, step: o.step, visitor: o.visitor, at: paid - ago - 60_000 },
    ]
    const other = random.chance(0.3) ? drawn(random, ids, (now - paid) / day) : null
    if (other && other.id !== who.id)
      mentions.push({
        affiliate: other.id,
        sub: other.sub,
        step: o.step,
        visitor: o.visitor,
        at: paid - ago - random.between(1, 40) * day,
      })
    await put(s, mentions)
    await s.db.transaction(async (tx) => {
      await attachMentions(tx, o.visitor, o.person)
      await countSale.hear(tx, [{ kind: "bought", at: paid, person: o.person, subject: o.id }])
      // What was accepted afterwards, charged later and given back.
      const later = await tx.rows<{ id: number; at: Date }>(
        "SELECT id, paid_at AS at FROM orders WHERE first_id = ? AND paid_at IS NOT NULL ORDER BY id",
        [o.id],
      )
      for (const f of later)
        await countSale.hear(tx, [{ kind: "bought", at: f.at.getTime(), person: o.person, subject: f.id }])
      const back = await tx.rows<{ order: number; at: Date; access: "ends" | "stays" }>(
        "SELECT c.order_id AS `order`, f.at, f.access FROM refund f JOIN charge c ON c.id = f.charge_id JOIN orders o ON o.id = c.order_id WHERE (o.id = ? OR o.first_id = ?) AND f.state = 'done' ORDER BY f.at",
        [o.id, o.id],
      )
      for (const b of back) {
        await settleOrder(tx, b.order, b.at.getTime())
        // A bonus that came with it is closed with it.
        if (b.access === "ends")
          await tx.write("UPDATE admission SET until_at = ? WHERE order_id = ? AND until_at IS NULL", [b.at, b.order])
      }
    })
    named.set(who.id, [...(named.get(who.id) ?? []), o.visitor])
  }
  await nameSources(s, r.sale, named)
}

/** Journeys that began by a link say whose it was. */
async function nameSources(s: Context, funnel: number, named: ReadonlyMap<number, readonly Buffer[]>): Promise<void> {
  for (const [id, visitors] of named) {
    const source = `@${(await s.db.row<{ code: string }>("SELECT code FROM affiliate WHERE id = ?", [id]))!.code}`
    for (let from = 0; from < visitors.length; from += 500) {
      const some = visitors.slice(from, from + 500)
      await s.db.write("UPDATE journey SET source = ? WHERE funnel_id = ? AND visitor IN (?)", [source, funnel, some])
      await s.db.write("UPDATE fact SET source = ? WHERE funnel_id = ? AND visitor IN (?) AND source IS NOT NULL", [
        source,
        funnel,
        some,
      ])
      await s.db.write("UPDATE orders SET source = ? WHERE funnel_id = ? AND visitor IN (?)", [source, funnel, some])
    }
  }
  // What waits to be summed was written with what they were called before.
  await s.db.write("DELETE FROM flow_change WHERE funnel_id = ? AND via = 'source'", [funnel])
  await s.db.write(
    `INSERT INTO flow_change (funnel_id, begun_at, step_id, from_step_id, outcome, via, source, money)
     SELECT funnel_id, begun_at, step_id, COALESCE(from_step_id, 0), COALESCE(outcome, ''), via, source, money FROM fact WHERE kind = 'arrived' AND via = 'source' AND funnel_id = ?`,
    [funnel],
  )
}

/** Clicks of which nothing came; one link is followed by hundreds, and nobody ever joins by it. */
async function otherClicks(s: Context, ids: readonly number[], random: Seeded, now: number): Promise<void> {
  const all: NewMention[] = []
  for (const [i, a] of recommenders.entries()) {
    const id = ids[i]
    if (!id || a.state !== "active") continue
    for (let n = 0; n < a.clicks; n++)
      all.push({
        affiliate: id,
        sub: random.pick(a.places),
        step: null,
        visitor: Buffer.from(`affiliate-${i}-${n}`.padEnd(16, ".").slice(0, 16)),
        at: Math.round(now - random() * (a.ago - (a.quiet ?? 0)) * day - (a.quiet ?? 0) * day),
      })
  }
  await put(s, all)
}

async function put(s: Context, mentions: readonly NewMention[]): Promise<void> {
  for (let from = 0; from < mentions.length; from += 500) await recordMentions(s.db, mentions.slice(from, from + 500))
}

/** Whoever has finished the month before last of the year is invited, and known by a tag. */
async function askAtTheRightMoment(s: Context, offer: number): Promise<void> {
  const lesson = await s.db.row<{ id: number }>(
    "SELECT l.id FROM lesson l JOIN course c ON c.id = l.course_id WHERE c.slug = 'a-year-in-ferments' ORDER BY l.position DESC LIMIT 1 OFFSET 1",
  )
  const on = { occasion: "lesson-done", of: lesson!.id, again: "no" as const }
  must(await addOnOccasion(s, { ...on, kind: "invite-affiliate", offer }))
  must(await addOnOccasion(s, { ...on, kind: "tag-on", tag: "could recommend" }))
  const row = (await s.db.row<LessonRow>("SELECT * FROM lesson WHERE id = ?", [lesson!.id]))!
  const page = lessonPage(row)
  must(
    await saveLessonPage(s, row.id, row.page_revision, {
      ...page,
      blocks: [
        ...page.blocks,
        { id: "recommend", kind: "recommend", recommends: offer, invites: "Who asked you over to taste it?" },
      ],
    }),
  )
}

/** The page on which affiliates sign up, live since the beginning. */
async function signUpPage(s: Context, offer: number): Promise<void> {
  const made = must(await newFunnel(s, { goal: "affiliates", offer }))
  await s.db.write(
    "UPDATE step SET path = REPLACE(path, 'recommend-a-year-in-ferments', 'recommend') WHERE funnel_id = ?",
    [made.funnel],
  )
  must(await publishFunnel(s, made.funnel))
}

/** Paid three times, on the first of a month or near it; what fell due since is made and waits for the bank. */
async function payOut(s: Context, now: number): Promise<void> {
  for (const [i, ago] of [200, 110, 50, 2].entries()) {
    const then = now - ago * day
    const past: Context = { ...s, clock: { now: async () => then } }
    const { seen, pay } = await previewPayout(past, then)
    if (!pay.length) continue
    const made = must(
      await makePayout(past, {
        once: `demo-payout-of-the-year-${i + 1}`,
        until: then,
        day: new Date(then + day).toISOString().slice(0, 10),
        seen,
      }),
    )
    if (i < 3) for (const id of made.ids) must(await markPaid(past, id))
    await payouts.run(past, "demo")
    await payouts.run(past, "demo")
  }
  await s.db.write("UPDATE mail SET state = 'sent', sent_at = due_at WHERE kind = 'statement'")
}
