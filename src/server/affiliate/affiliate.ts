// Affiliates: persons who recommend. How they come, are approved and end, and what is theirs alone: code, name, own rate.
import * as v from "valibot"
import { codeOf, isCode } from "@/core/affiliate/code"
import { programmeRuns, type Rate, rateSchema } from "@/core/affiliate/programme"
import { nameInMail, parseName } from "@/core/person/name"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { happen } from "../happen"
import { queueWayIn } from "../person/way-in"
import { type ProgrammeSet, programmeOf } from "../programme/programme"
import { ok, refusal, type Saved } from "../saved"
import { whoBrought } from "./mention"
import { changed } from "./rules"

export type AffiliateState = "invited" | "asked" | "active" | "ended"

export type Affiliate = {
  readonly id: number
  readonly person: number | null
  readonly state: AffiliateState
  readonly code: string
  readonly name: string
  /** Whether visitors are told their name. */
  readonly shown: boolean
  readonly broughtBy: number | null
  readonly askedAt: Date
  readonly since: Date | null
  readonly endedAt: Date | null
  readonly source: AffiliateSource
  /** What they want to be called from now on, until the school has said yes or no; null: nothing else. */
  readonly wantedName: string | null
}

export type AffiliateSource = "page" | "hand" | "list" | "invitation" | "effect" | "lesson"

export const affiliateColumns =
  "a.id, a.person_id AS person, a.state, a.code, a.public_name AS name, a.shown, a.brought_by_id AS broughtBy, a.asked_at AS askedAt, a.since, a.ended_at AS endedAt, a.source, a.wanted_name AS wantedName"

const shaped = (r: Affiliate): Affiliate => ({ ...r, shown: Boolean(r.shown) })

export async function affiliateById(db: Db, id: number): Promise<Affiliate | undefined> {
  const row = await db.row<Affiliate>(`SELECT ${affiliateColumns} FROM affiliate a WHERE a.id = ?`, [id])
  return row && shaped(row)
}

export async function affiliateOf(db: Db, person: number): Promise<Affiliate | undefined> {
  const row = await db.row<Affiliate>(`SELECT ${affiliateColumns} FROM affiliate a WHERE a.person_id = ?`, [person])
  return row && shaped(row)
}

/** What affiliates are called, by their number. */
export async function affiliateNames(db: Db, ids: readonly number[]): Promise<(id: number) => string> {
  const rows = await db.rows<{ id: number; name: string }>(
    "SELECT id, public_name AS name FROM affiliate WHERE id IN (?)",
    [[0, ...ids]],
  )
  const names = new Map(rows.map((r) => [r.id, r.name]))
  return (id) => names.get(id) || "an affiliate who is gone"
}

/** Those who are affiliates now, to choose from; at most 500. */
export const affiliatesToChoose = (db: Db) =>
  db.rows<{ id: number; code: string; name: string }>(
    "SELECT id, code, public_name AS name FROM affiliate WHERE state = 'active' ORDER BY public_name LIMIT 500",
  )

export type ComingAffiliate = {
  readonly person: number
  readonly source: AffiliateSource
  readonly state: "invited" | "asked" | "active"
  readonly at: number
  readonly publicName?: string
}

/**
 * Makes somebody an affiliate, or takes them further on their way to be one; never back. Gives the affiliate. To be called
 * inside a transaction.
 */
export async function makeAffiliate(
  tx: Db,
  c: ComingAffiliate,
): Promise<{ readonly id: number; readonly fresh: boolean }> {
  const at = new Date(c.at)
  const known = await tx.row<{ id: number; state: AffiliateState }>(
    "SELECT id, state FROM affiliate WHERE person_id = ? FOR UPDATE",
    [c.person],
  )
  if (known) {
    const rank = { ended: 0, invited: 1, asked: 2, active: 3 }
    // Who was ended comes back only by the school's own hand.
    const further =
      known.state === "ended" ? c.source === "hand" : rank[c.state] > rank[known.state] && known.state !== "active"
    if (further) await setState(tx, known.id, c.state, c.at)
    return { id: known.id, fresh: false }
  }
  const person = (await tx.row<{ name: string; email: string }>("SELECT name, email FROM person WHERE id = ?", [
    c.person,
  ]))!
  const name = (c.publicName || person.name || person.email.split("@")[0] || "").slice(0, 120)
  // Whoever comes at the same moment waits here, so that no two are given the same word.
  await changed(tx)
  const made = await tx.insert("affiliate", {
    person_id: c.person,
    state: c.state,
    code: await freeCode(tx, name),
    public_name: name,
    brought_by_id: await whoBrought(tx, c.person, c.at),
    asked_at: at,
    since: c.state === "active" ? at : null,
    source: c.source,
  })
  await happen(tx, {
    kind: c.state === "active" ? "affiliate-began" : c.state === "asked" ? "affiliate-asked" : "affiliate-invited",
    at: c.at,
    person: c.person,
    subject: made.id,
    words: name,
  })
  return { id: made.id, fresh: true }
}

async function freeCode(tx: Db, name: string): Promise<string> {
  const wanted = codeOf(name, new Set())
  const like = await tx.rows<{ code: string }>("SELECT code FROM affiliate WHERE code LIKE ? FOR UPDATE", [
    `${wanted.replace(/[_%]/g, "")}%`,
  ])
  return codeOf(name, new Set(like.map((r) => r.code)))
}

async function setState(tx: Db, id: number, state: AffiliateState, now: number): Promise<void> {
  const at = new Date(now)
  await tx.write(
    "UPDATE affiliate SET state = ?, since = IF(? = 'active', COALESCE(since, ?), since), ended_at = IF(? = 'ended', ?, NULL) WHERE id = ?",
    [state, state, at, state, at, id],
  )
  await changed(tx)
  const a = (await affiliateById(tx, id))!
  const kind = {
    active: "affiliate-began",
    ended: "affiliate-ended",
    asked: "affiliate-asked",
    invited: "affiliate-invited",
  } as const
  await happen(tx, { kind: kind[state], at: now, person: a.person, subject: id, words: a.name })
}

/**
 * Takes part in a programme, having agreed to this version of its conditions (0: there are none, or not yet agreed), or asks to
 * (`waits`). Whoever was let in once doesn't wait again.
 */
export async function takePart(
  tx: Db,
  affiliate: number,
  offer: number,
  version: number,
  now: number,
  waits = false,
): Promise<void> {
  const at = version ? new Date(now) : null
  await tx.insert(
    "affiliate_in",
    { affiliate_id: affiliate, offer_id: offer, agreed_version: version, agreed_at: at, waits },
    "ON DUPLICATE KEY UPDATE waits = LEAST(waits, VALUES(waits)), agreed_at = IF(VALUES(agreed_version) > agreed_version, VALUES(agreed_at), agreed_at), agreed_version = GREATEST(agreed_version, VALUES(agreed_version))",
  )
}

export type Agreeing = {
  readonly person: number
  readonly offer: number
  /** The version of the conditions that they read and agreed to; 0 where there are none. */
  readonly version: number
  readonly source: AffiliateSource
  readonly at: number
}

/**
 * Somebody joins a programme by their own hand: at once, or once the school has approved. Refused where it doesn't run, or
 * where its conditions have changed since they were read. To be called inside a transaction.
 */
export async function joinProgramme(
  tx: Db,
  a: Agreeing,
): Promise<{ readonly affiliate: number; readonly state: AffiliateState } | { readonly refused: string }> {
  const p = await programmeOf(tx, a.offer)
  if (!p || !programmeRuns(p, a.at)) return { refused: refusals.affiliate.programmeOff }
  if (p.conditionsVersion !== a.version) return { refused: refusals.affiliate.conditionsChanged }
  const before = await affiliateOf(tx, a.person)
  // Who was invited to this programme, or is in it, is welcome; being in another one says nothing.
  const part = await tx.row("SELECT 1 FROM affiliate_part WHERE affiliate_id = ? AND offer_id = ?", [
    before?.id ?? 0,
    a.offer,
  ])
  const welcome = p.approve === "at-once" || (part !== undefined && before?.state !== "asked")
  const { id } = await makeAffiliate(tx, {
    person: a.person,
    source: a.source,
    state: welcome ? "active" : "asked",
    at: a.at,
  })
  await takePart(tx, id, a.offer, a.version, a.at, !welcome)
  const now = (await affiliateById(tx, id))!
  if (!welcome && now.state === "active")
    await happen(tx, { kind: "affiliate-asked", at: a.at, person: a.person, subject: id, words: now.name })
  return { affiliate: id, state: welcome ? now.state : "asked" }
}

/** Invites a person to a programme: they are mailed a way into their portal, where they read and agree. In a transaction. */
export async function inviteAffiliate(
  tx: Db,
  i: {
    readonly person: number
    readonly programme: ProgrammeSet
    readonly source: AffiliateSource
    readonly at: number
  },
): Promise<boolean> {
  const { id, fresh } = await makeAffiliate(tx, { person: i.person, source: i.source, state: "invited", at: i.at })
  const there = await tx.row("SELECT 1 FROM affiliate_in WHERE affiliate_id = ? AND offer_id = ?", [
    id,
    i.programme.offer,
  ])
  await takePart(tx, id, i.programme.offer, 0, i.at)
  if (there && !fresh) return false
  const to = await tx.row<{ email: string; name: string }>("SELECT email, name FROM person WHERE id = ?", [i.person])
  if (to?.email)
    await queueWayIn(
      tx,
      { person: i.person, ...to, leadsTo: "/affiliate", at: i.at, offer: i.programme.offer },
      "affiliate-invited",
    )
  return true
}

/** Approves who asked, for everything that they asked for: they can begin at once. */
export async function approveAffiliate(s: Context, id: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const a = await tx.row<{ state: AffiliateState; person_id: number | null }>(
      "SELECT state, person_id FROM affiliate WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!a?.person_id) return { refused: refusals.gone.thing }
    const parts = await tx.write("UPDATE affiliate_in SET waits = 0 WHERE affiliate_id = ? AND waits = 1", [id])
    if (a.state === "active" && !parts.affected) return ok
    if (a.state !== "active") await setState(tx, id, "active", at)
    const to = (await tx.row<{ email: string; name: string }>("SELECT email, name FROM person WHERE id = ?", [
      a.person_id,
    ]))!
    await queueWayIn(tx, { person: a.person_id, ...to, leadsTo: "/affiliate", at }, "affiliate-approved")
    return ok
  })
}

/** Ends an affiliate: nothing new counts for them; what they are owed stays owed, and what was agreed for sales that were made goes on. */
export async function endAffiliate(s: Context, id: number): Promise<Saved> {
  const at = await s.clock.now()
  return s.db.transaction(async (tx): Promise<Saved> => {
    const a = await tx.row<{ state: AffiliateState }>("SELECT state FROM affiliate WHERE id = ? FOR UPDATE", [id])
    if (!a) return { refused: refusals.gone.thing }
    if (a.state !== "ended") await setState(tx, id, "ended", at)
    await tx.write("UPDATE coupon SET until_at = ? WHERE affiliate_id = ? AND (until_at IS NULL OR until_at > ?)", [
      new Date(at),
      id,
      new Date(at),
    ])
    return ok
  })
}

const name = v.pipe(
  v.string(),
  v.trim(),
  v.nonEmpty(refusals.value.missing),
  v.maxLength(120, refusals.value.longest(120)),
  // It stands on the school's pages.
  v.check((typed) => parseName(typed) !== null && nameInMail(typed) !== "", refusals.value.unreadable),
)
const ownInput = v.object({
  name,
  shown: v.boolean(),
  code: v.pipe(v.string(), v.trim(), v.toLowerCase(), v.check(isCode, refusals.affiliate.code)),
})

/**
 * What visitors and links say of an affiliate. A name that they change themselves waits for the school's yes. Links with an old code
 * go on working only while nobody else takes it.
 */
export async function changeAffiliate(s: Context, id: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(ownInput, typed)
  if (!read.success) return refusal(read.issues)
  const o = read.output
  return s.db.transaction(async (tx): Promise<Saved> => {
    const now = await tx.row<{ code: string; name: string }>(
      "SELECT code, public_name AS name FROM affiliate WHERE id = ? FOR UPDATE",
      [id],
    )
    if (!now) return { refused: refusals.gone.thing }
    if (now.code !== o.code) {
      const held = await tx.row(
        "SELECT 1 FROM affiliate WHERE code = ? UNION SELECT 1 FROM code_before WHERE code = ? AND affiliate_id <> ?",
        [o.code, o.code, id],
      )
      if (held) return { refused: refusals.affiliate.codeTaken, field: "code" }
      await tx.write("REPLACE INTO code_before (code, affiliate_id) VALUES (?, ?)", [now.code, id])
      await tx.write("DELETE FROM code_before WHERE code = ?", [o.code])
    }
    const waits = s.actor.is === "affiliate" && o.name !== now.name
    await tx.update("affiliate", id, {
      public_name: waits ? now.name : o.name,
      wanted_name: waits ? o.name : null,
      shown: o.shown,
      code: o.code,
    })
    await changed(tx)
    return ok
  })
}

/** Says yes or no to the name that an affiliate wants to have. */
export async function answerName(s: Context, id: number, yes: boolean): Promise<Saved> {
  return s.db.transaction(async (tx): Promise<Saved> => {
    await tx.write(
      "UPDATE affiliate SET public_name = IF(?, COALESCE(wanted_name, public_name), public_name), wanted_name = NULL WHERE id = ?",
      [yes, id],
    )
    await changed(tx)
    return ok
  })
}

/** An own rate for one affiliate in one programme, for what is sold from now on; null: the programme's again. */
export async function setOwnRate(s: Context, id: number, offer: number, typed: unknown): Promise<Saved> {
  const read = v.safeParse(v.nullable(rateSchema), typed)
  if (!read.success) return refusal(read.issues)
  const done = await s.db.write("UPDATE affiliate_in SET rate = ? WHERE affiliate_id = ? AND offer_id = ?", [
    read.output && JSON.stringify(read.output),
    id,
    offer,
  ])
  return done.affected ? ok : { refused: refusals.gone.thing }
}

export type Participation = {
  readonly offer: number
  readonly rate: Rate | null
  readonly agreedVersion: number
  readonly agreedAt: Date | null
  /** Whether it waits for the school's yes. */
  readonly waits: boolean
}

export async function partsOfAffiliate(db: Db, id: number): Promise<Participation[]> {
  const rows = await db.rows<Omit<Participation, "rate" | "waits"> & { rate: string | null; waits: number }>(
    "SELECT offer_id AS offer, rate, agreed_version AS agreedVersion, agreed_at AS agreedAt, waits FROM affiliate_in WHERE affiliate_id = ? ORDER BY offer_id",
    [id],
  )
  return rows.map((r) => ({ ...r, rate: readRate(r.rate), waits: Boolean(r.waits) }))
}

export const readRate = (json: string | null): Rate | null => (json ? v.parse(rateSchema, JSON.parse(json)) : null)
