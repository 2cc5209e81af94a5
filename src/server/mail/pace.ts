// The school's sending rate, kept by all workers together: turns are taken under lock, and what receivers answer slows them down.
import { domainToASCII } from "node:url"
import * as v from "valibot"
import { type Pace, rateOf, type ServerAnswer, slowedAfter, turnsOf } from "@/core/mail/pace"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { DueMail } from "../port/letter"
import { ok, refusal, type Saved } from "../saved"

/** A mail whose turn is farther off than this is let go of, ms. */
const horizon = 1_500

/** As the name system has it. */
export const domainOf = (email: string) => domainToASCII(email.slice(email.lastIndexOf("@") + 1)) || "?"

export type PaceSet = { readonly perSecond: number | null; readonly perDomain: number | null }

export async function readPace(db: Db): Promise<PaceSet> {
  const row = await db.row<PaceSet>(
    "SELECT mail_per_second AS perSecond, mail_per_domain AS perDomain FROM school WHERE id = 1",
  )
  return row ?? { perSecond: null, perDomain: null }
}

const rate = v.nullable(
  v.pipe(
    v.number(),
    v.integer(refusals.value.wholeNumber),
    v.minValue(1, refusals.value.atLeastOne),
    v.maxValue(1000, refusals.mail.fastest),
  ),
)
const paceInput = v.object({ perSecond: rate, perDomain: rate })

export async function savePace(s: Context, typed: unknown): Promise<Saved> {
  const read = v.safeParse(paceInput, typed)
  if (!read.success) return refusal(read.issues)
  await s.db.transaction(async (tx) => {
    await tx.write("UPDATE school SET mail_per_second = ?, mail_per_domain = ? WHERE id = 1", [
      read.output.perSecond,
      read.output.perDomain,
    ])
    // Whoever waits for a turn of the old rate is looked at anew.
    await tx.write("UPDATE mail_pace SET free_at = '1970-01-01', tail_at = '1970-01-01'")
    await tx.write("UPDATE mail SET try_at = '1970-01-01', paced = 0 WHERE state = 'due' AND paced = 1")
  })
  return ok
}

export type Slowed = {
  readonly domain: string
  /** E-mails a minute now. */
  readonly perMinute: number
  readonly since: Date
  readonly says: string
}

/** Receivers that asked for less, the slowest first; at most 50. */
export async function slowedDown(db: Db): Promise<Slowed[]> {
  const { perDomain } = await readPace(db)
  const rows = await db.rows<{ domain: string; slowed: number; since: Date; says: string | null }>(
    "SELECT domain, slowed, slowed_at AS since, says FROM mail_pace WHERE slowed > 0 ORDER BY slowed DESC, domain LIMIT 50",
  )
  return rows.map((r) => ({
    domain: r.domain,
    perMinute: 60 * rateOf(perDomain, r.slowed)!,
    since: r.since,
    says: r.says ?? "",
  }))
}

/** A mail that goes, and when (ms of real time). */
export type Going = { readonly mail: DueMail; readonly at: number }

type Row = { domain: string; free_at: Date; tail_at: Date; slowed: number }

/** Gives each of these its turn; those whose turn is farther off are let go of. They are of one claim. */
export async function takeTurns(s: Context, mails: readonly DueMail[]): Promise<readonly Going[]> {
  const now = Date.now()
  if (!mails.length) return []
  const { perSecond, perDomain } = await readPace(s.db)
  const domains = [...new Set(mails.map((m) => domainOf(m.to_email)))]
  if (perSecond === null && perDomain === null) {
    const slowed = await s.db.row("SELECT 1 FROM mail_pace WHERE slowed > 0 AND domain IN (?) LIMIT 1", [domains])
    if (!slowed) return mails.map((mail) => ({ mail, at: now }))
  }
  return s.db.transaction(async (tx) => {
    await tx.insert(
      "mail_pace",
      ["", ...domains].toSorted().map((d) => ({ domain: d })),
      "ignore",
    )
    const rows = await tx.rows<Row>(
      "SELECT domain, free_at, tail_at, slowed FROM mail_pace WHERE domain IN (?) ORDER BY domain FOR UPDATE",
      [["", ...domains]],
    )
    const before = new Map(
      rows.map((r): [string, Pace] => [
        r.domain,
        { freeAt: r.free_at.getTime(), tailAt: r.tail_at.getTime(), slowed: r.slowed },
      ]),
    )
    const turns = turnsOf(
      mails.map((m) => ({
        id: m.id,
        domain: domainOf(m.to_email),
        asked: m.goes === null,
        paced: Boolean(m.paced),
      })),
      before,
      { all: perSecond, domain: perDomain },
      now,
      horizon,
    )
    for (const [domain, p] of turns.paces)
      if (p !== before.get(domain))
        await tx.write("UPDATE mail_pace SET free_at = ?, tail_at = ? WHERE domain = ?", [
          new Date(p.freeAt),
          new Date(p.tailAt),
          domain,
        ])
    const off = [...turns.putOff]
    if (off.length)
      await tx.write(
        "UPDATE mail SET claimed_by = NULL, paced = 1, try_at = ELT(FIELD(id, ?), ?) WHERE id IN (?) AND claimed_by = ? AND state = 'due'",
        [
          off.map(([id]) => id),
          off.map(([, at]) => new Date(Math.ceil(at))),
          off.map(([id]) => id),
          mails[0]!.claimed_by,
        ],
      )
    return mails
      .flatMap((mail) => {
        const at = turns.go.get(mail.id)
        return at === undefined ? [] : [{ mail, at }]
      })
      .toSorted((a, b) => a.at - b.at)
  })
}

/** What receivers answered just now: whoever said "later" is slowed down, and picks up again when it has taken everything. */
export async function applyReplies(
  tx: Db,
  answers: readonly { readonly email: string; readonly answer: ServerAnswer; readonly says: string }[],
): Promise<void> {
  const later = answers.filter((a) => a.answer === "later")
  const domains = [...new Set(answers.map((a) => domainOf(a.email)))]
  if (!domains.length) return
  const slow = await tx.rows<{ domain: string }>("SELECT domain FROM mail_pace WHERE slowed > 0 AND domain IN (?)", [
    domains,
  ])
  if (!slow.length && !later.length) return
  const now = Date.now()
  const about = [...new Set([...slow.map((x) => x.domain), ...later.map((a) => domainOf(a.email))])].toSorted()
  await tx.insert(
    "mail_pace",
    about.map((d) => ({ domain: d })),
    "ignore",
  )
  const rows = await tx.rows<{ domain: string; slowed: number; slowed_at: Date | null }>(
    "SELECT domain, slowed, slowed_at FROM mail_pace WHERE domain IN (?) ORDER BY domain FOR UPDATE",
    [about],
  )
  for (const r of rows) {
    const said = later.find((a) => domainOf(a.email) === r.domain)
    const slowed = slowedAfter(r.slowed, r.slowed_at?.getTime() ?? 0, said ? "later" : "taken", now)
    if (slowed !== r.slowed)
      await tx.write("UPDATE mail_pace SET slowed = ?, slowed_at = ?, says = COALESCE(?, says) WHERE domain = ?", [
        slowed,
        new Date(now),
        said?.says.slice(0, 400) ?? null,
        r.domain,
      ])
  }
}
