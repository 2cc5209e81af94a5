// What an affiliate sees on their own page: what they have earned, what their links do day by day, and what they can use.

import * as v from "valibot"
import { affiliateLink, shortLink, subOf, type Via } from "@/core/affiliate/code"
import { programmeRuns, type Rate } from "@/core/affiliate/programme"
import { kindsThat } from "@/core/funnel/step/list"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { checkoutPathOf } from "../offer/link"
import { dayKey } from "../offer/shown"
import {
  listProgrammes,
  type Material,
  materialsOf,
  type ProgrammeSet,
  programmeConditions,
} from "../programme/programme"
import { homeOf, pathOfStep, targetOf } from "../programme/target"
import { type Made, refusal } from "../saved"
import { schoolZone } from "../school-view"
import { type Affiliate, partsOfAffiliate } from "./affiliate"

export type DayOf = { readonly day: string; readonly clicks: number; readonly joins: number; readonly sales: number }

/** So many days back, each with what happened on it; in the zone of the school. */
export async function earnedDays(db: Db, affiliate: number, now: number, back = 30): Promise<DayOf[]> {
  const zone = await schoolZone(db)
  const from = new Date(now - back * 86_400_000)
  const days = new Map<string, { clicks: number; joins: number; sales: number }>()
  for (let i = back - 1; i >= 0; i--) days.set(dayKey(now - i * 86_400_000, zone), { clicks: 0, joins: 0, sales: 0 })
  const take = async (what: "clicks" | "joins" | "sales", sql: string) => {
    // By quarter-hour, so that days begin where the school is.
    for (const r of await db.rows<{ at: number; n: number }>(sql, [affiliate, from])) {
      const found = days.get(dayKey(r.at * 1000, zone))
      if (found) found[what] += r.n
    }
  }
  const quarter = (column: string) => `FLOOR(UNIX_TIMESTAMP(${column}) / 900) * 900`
  await take(
    "clicks",
    `SELECT ${quarter("at")} AS at, COUNT(*) AS n FROM mention WHERE affiliate_id = ? AND at >= ? GROUP BY 1`,
  )
  await take(
    "joins",
    `SELECT ${quarter("at")} AS at, COUNT(*) AS n FROM affiliate_join WHERE affiliate_id = ? AND at >= ? GROUP BY 1`,
  )
  await take(
    "sales",
    `SELECT ${quarter("at")} AS at, COUNT(*) AS n FROM sale WHERE affiliate_id = ? AND at >= ? GROUP BY 1`,
  )
  return [...days].map(([day, n]) => ({ day, ...n }))
}

export type PortalPart = {
  readonly programme: ProgrammeSet
  readonly rate: Rate | null
  /** Whether it runs now. */
  readonly runs: boolean
  /** Whether they have agreed to the conditions that hold now. */
  readonly agreed: boolean
  readonly agreedVersion: number
}

/** Names of programmes that somebody asked to join, and isn't approved for yet. */
export async function askedFor(db: Db, affiliate: number): Promise<string[]> {
  const names = new Map((await listProgrammes(db)).map((p) => [p.offer, p.name]))
  return (await partsOfAffiliate(db, affiliate)).flatMap((p) => (p.waits ? (names.get(p.offer) ?? []) : []))
}

/** The programmes that somebody takes part in, or was invited to. */
export async function partsFor(db: Db, affiliate: number, now: number): Promise<PortalPart[]> {
  const all = new Map((await listProgrammes(db)).map((p) => [p.offer, p]))
  return (await partsOfAffiliate(db, affiliate)).flatMap((p) => {
    const programme = all.get(p.offer)
    if (!programme || p.waits) return []
    return [
      {
        programme,
        rate: p.rate,
        runs: programmeRuns(programme, now),
        agreed: p.agreedVersion >= programme.conditionsVersion,
        agreedVersion: p.agreedVersion,
      },
    ]
  })
}

/** Programmes that anybody may ask to join now, and this affiliate isn't in. */
export async function openTo(db: Db, affiliate: number | null, now: number): Promise<ProgrammeSet[]> {
  const within = new Set(affiliate === null ? [] : (await partsOfAffiliate(db, affiliate)).map((p) => p.offer))
  return (await listProgrammes(db)).filter((p) => programmeRuns(p, now) && !within.has(p.offer))
}

export async function wordsOfConditions(db: Db, p: ProgrammeSet): Promise<string> {
  return p.conditionsVersion ? ((await programmeConditions(db, p.offer, p.conditionsVersion))?.words ?? "") : ""
}

export type Ready = Material & {
  /** The link that stands in it. */
  readonly link: string
  /** The words with the link in their place. */
  readonly text: string
}

/** Where links say ‹my link›. */
export const linkMark = /‹\s*my link\s*›/gi

/** Words with the link where they say it, or behind them. */
export function withLink(words: string, link: string): string {
  const said = words.replace(linkMark, () => link)
  return said === words ? `${words}${words ? "\n\n" : ""}${link}` : said
}

/** Words and pictures of a programme with the affiliate's own link in each. */
export async function readyFor(s: Context, a: Pick<Affiliate, "code">, p: ProgrammeSet): Promise<Ready[]> {
  const home = await targetOf(s.db, p)
  const via: Via = { code: a.code, sub: "" }
  const list: Ready[] = []
  for (const m of await materialsOf(s.db, p.offer)) {
    const path = (m.step === null ? null : await pathOfStep(s.db, m.step)) ?? home
    // Where nothing sells it just now, the short link finds its way once something does.
    const link = path === null ? shortLink(s.config.origin, via) : affiliateLink(s.config.origin, path, via)
    list.push({ ...m, link, text: withLink(m.words, link) })
  }
  return list
}

export type PortalTarget = { readonly value: string; readonly says: string }

/** Where a link can lead: to a page of a programme's funnel or any other that is live, or straight to a checkout. */
export async function targetsFor(s: Context, parts: readonly PortalPart[]): Promise<PortalTarget[]> {
  const pages = await s.db.rows<{ id: number; name: string; funnel: string; path: string }>(
    `SELECT t.id, t.name, f.name AS funnel, p.path FROM live_page p JOIN step t ON t.id = p.step_id AND t.kind IN (?) JOIN funnel f ON f.id = t.funnel_id ORDER BY f.name, t.position LIMIT 200`,
    [kindsThat((k) => k.entry)],
  )
  // What they are paid for comes first.
  const mine = new Set<string | null>()
  for (const p of parts) if (p.runs) mine.add(await targetOf(s.db, p.programme))
  pages.sort((a, b) => Number(mine.has(b.path)) - Number(mine.has(a.path)))
  const checkouts: PortalTarget[] = []
  for (const p of parts)
    if (p.runs && (await checkoutPathOf(s.db, p.programme.offer)))
      checkouts.push({ value: `offer:${p.programme.offer}`, says: `Straight to the checkout of “${p.programme.name}”` })
  return [
    ...pages.map((p) => ({ value: `step:${p.id}`, says: p.funnel === p.name ? p.name : `${p.name} (${p.funnel})` })),
    ...checkouts,
  ]
}

export type MadeLink = {
  readonly id: number
  readonly sub: string
  readonly leads: string
  readonly url: string
  readonly short: string
  /** Whether its page is live; otherwise it leads to the next best one. */
  readonly live: boolean
}

const making = v.object({
  to: v.pipe(v.string(), v.regex(/^(step|offer):[1-9]\d{0,8}$/, refusals.affiliate.noPage)),
  name: v.pipe(v.string(), v.maxLength(80, refusals.value.longest(80))),
})

const mostLinks = 300

/** Makes a link to a live page or a checkout, with a name for the place where it is given out. */
export async function makeLink(s: Context, a: Affiliate, typed: unknown): Promise<Made> {
  const read = v.safeParse(making, typed)
  if (!read.success) return refusal(read.issues)
  const [kind, number_] = read.output.to.split(":") as ["step" | "offer", string]
  const target = Number(number_)
  const sub = subOf(read.output.name)
  if (read.output.name.trim() && !sub) return { refused: refusals.affiliate.subName, field: "name" }
  const there = kind === "step" ? await pathOfStep(s.db, target) : await checkoutPathOf(s.db, target)
  if (!there) return { refused: refusals.affiliate.noPage, field: "to" }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Made> => {
    await tx.row("SELECT id FROM affiliate WHERE id = ? FOR UPDATE", [a.id])
    const same = await tx.row<{ id: number }>(
      "SELECT id FROM affiliate_link WHERE affiliate_id = ? AND sub = ? AND step_id <=> ? AND offer_id <=> ?",
      [a.id, sub, kind === "step" ? target : null, kind === "offer" ? target : null],
    )
    if (same) return { ok: true, id: same.id }
    const all = await tx.rows("SELECT id FROM affiliate_link WHERE affiliate_id = ?", [a.id])
    if (all.length >= mostLinks) return { refused: refusals.value.most(mostLinks) }
    const made = await tx.insert("affiliate_link", {
      affiliate_id: a.id,
      step_id: kind === "step" ? target : null,
      offer_id: kind === "offer" ? target : null,
      sub,
      made_at: at,
    })
    return { ok: true, id: made.id }
  })
}

export async function removeLink(s: Context, a: Affiliate, link: number): Promise<void> {
  await s.db.write("DELETE FROM affiliate_link WHERE id = ? AND affiliate_id = ?", [link, a.id])
}

/** The links that an affiliate had made, the latest first. */
export async function portalLinks(s: Context, a: Affiliate, now: number): Promise<MadeLink[]> {
  const rows = await s.db.rows<
    Pick<Row<"affiliate_link">, "id" | "sub" | "offer_id"> & {
      step: string | null
      path: string | null
      offer: string | null
    }
  >(
    `SELECT l.id, l.sub, t.name AS step, p.path, l.offer_id, o.public_name AS offer FROM affiliate_link l LEFT JOIN step t ON t.id = l.step_id
     LEFT JOIN live_page p ON p.step_id = l.step_id LEFT JOIN offer o ON o.id = l.offer_id WHERE l.affiliate_id = ? ORDER BY l.id DESC LIMIT ?`,
    [a.id, mostLinks],
  )
  const home = await homeOf(s.db, a.id, now)
  const list: MadeLink[] = []
  for (const r of rows) {
    const path = r.path ?? (r.offer_id === null ? null : ((await checkoutPathOf(s.db, r.offer_id)) ?? null))
    const via = { code: a.code, sub: r.sub }
    list.push({
      id: r.id,
      sub: r.sub,
      leads: r.offer ? `the checkout of “${r.offer}”` : (r.step ?? "a page that was taken down"),
      url: affiliateLink(s.config.origin, path ?? home ?? "", via),
      short: shortLink(s.config.origin, via),
      live: path !== null,
    })
  }
  return list
}

export type RunningProgramme = { readonly says: string; readonly until: Date | null; readonly at: Date | null }

/** What is going on now that is worth telling: offers that end, webinars that come. */
export async function runningNow(db: Db, now: number): Promise<RunningProgramme[]> {
  const offers = await db.rows<{ id: number; name: string; until_at: Date | null }>(
    "SELECT o.id, o.public_name AS name, o.until_at FROM offer o JOIN programme p ON p.offer_id = o.id AND p.is_on = 1 WHERE o.hidden = 0 AND o.removed_at IS NULL AND (o.from_at IS NULL OR o.from_at <= ?) AND (o.until_at IS NULL OR o.until_at > ?) ORDER BY o.until_at IS NULL, o.until_at LIMIT 10",
    [new Date(now), new Date(now)],
  )
  const webinars = await db.rows<{ name: string; at: Date }>(
    `SELECT w.name, MIN(d.starts_at) AS at FROM webinar w JOIN webinar_date d ON d.webinar_id = w.id AND d.starts_at > ? AND d.called_off_at IS NULL
     WHERE EXISTS (SELECT 1 FROM reference r JOIN live_page p ON p.step_id = r.step_id WHERE r.webinar_id = w.id) GROUP BY w.id, w.name ORDER BY at LIMIT 5`,
    [new Date(now)],
  )
  const sold: typeof offers = []
  for (const o of offers) if (await checkoutPathOf(db, o.id)) sold.push(o)
  return [
    ...webinars.map((w) => ({ says: w.name, until: null, at: w.at })),
    ...sold.map((o) => ({ says: o.name, until: o.until_at, at: null })),
  ]
}

/** The codes of an affiliate's own coupons that count now. */
export async function couponsOf(db: Db, affiliate: number, now: number): Promise<string[]> {
  const rows = await db.rows<{ code: string }>(
    "SELECT code FROM coupon WHERE affiliate_id = ? AND (until_at IS NULL OR until_at > ?) ORDER BY id LIMIT 20",
    [affiliate, new Date(now)],
  )
  return rows.map((r) => r.code)
}
