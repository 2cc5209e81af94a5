// Imprint, privacy and terms: written in Settings, shown when they are put up.
import * as v from "valibot"
import { type LegalFacts, type LegalKind, legalKinds, legalNames } from "@/core/page/legal"
import { refusals } from "@/core/words/refusals"
import { cardsConnected, meetingConnected } from "../connection"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import type { Row } from "../db/row"
import { gone, ok, type Refused, refusal, type Saved } from "../saved"
import { schoolRow } from "../school-view"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"
import { cleanRichText } from "./rich-text"

const input = v.object({ html: v.pipe(v.string(), v.maxLength(200_000, refusals.value.longest(200_000))) })
export type LegalInput = v.InferOutput<typeof input>

export type LegalRead = Stored<LegalInput> & {
  readonly kind: LegalKind
  /** When it was put up, ms; null: visitors don't see it. */
  readonly shownAt: number | null
  /** What is written is what is shown. */
  readonly same: boolean
}

const unwritten: Pick<Row<"legal_page">, "draft" | "revision" | "shown" | "shown_at"> = {
  draft: "",
  revision: 0,
  shown: null,
  shown_at: null,
}

/** All three, in their order. */
export async function readLegal(db: Db): Promise<LegalRead[]> {
  const rows = await db.rows<Row<"legal_page">>("SELECT * FROM legal_page")
  return legalKinds.map((kind) => {
    const r = rows.find((x) => x.kind === kind) ?? unwritten
    return {
      kind,
      revision: r.revision,
      value: { html: r.draft },
      shownAt: r.shown_at?.getTime() ?? null,
      same: r.shown === r.draft,
    }
  })
}

/** Those that visitors see. */
export async function shownLegal(db: Db): Promise<LegalKind[]> {
  const rows = await db.rows<{ kind: string }>("SELECT kind FROM legal_page WHERE shown IS NOT NULL")
  return legalKinds.filter((kind) => rows.some((r) => r.kind === kind))
}

/** The names of those that they don't. */
export async function unwrittenLegal(db: Db): Promise<string[]> {
  const shown = await shownLegal(db)
  return legalKinds.filter((kind) => !shown.includes(kind)).map((kind) => legalNames[kind])
}

/** What visitors read of one; undefined: it isn't shown. `at`: ms. */
export async function legalText(
  db: Db,
  kind: LegalKind,
): Promise<{ shown: string; at: number; zone: string } | undefined> {
  const row = await db.row<{ shown: string; at: Date; zone: string }>(
    "SELECT l.shown, l.shown_at AS at, s.zone FROM legal_page l JOIN school s ON s.id = 1 WHERE l.kind = ? AND l.shown IS NOT NULL",
    [kind],
  )
  return row && { ...row, at: row.at.getTime() }
}

const isKind = (kind: unknown): kind is LegalKind => legalKinds.includes(kind as LegalKind)

/** Saves one as it is typed; visitors see nothing of it yet. */
export async function saveLegal(
  s: Context,
  kind: unknown,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<LegalInput>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  if (!isKind(kind)) return gone
  return s.db.transaction(async (tx): Promise<SavedShared<LegalInput>> => {
    await tx.insert("legal_page", { kind, draft: "", shown: null, shown_at: null }, "ignore")
    const row = (await tx.row<Row<"legal_page">>("SELECT * FROM legal_page WHERE kind = ? FOR UPDATE", [kind]))!
    const done = reconcile(
      { html: cleanRichText(read.output.html) },
      { revision: row.revision, value: { html: row.draft } },
      before,
    )
    if ("clash" in done) return done
    await tx.write("UPDATE legal_page SET draft = ?, revision = revision + 1 WHERE kind = ?", [done.write.html, kind])
    return { revision: row.revision + 1, value: done.write }
  })
}

/** Visitors read what is written; says whether it is shown for the first time, so that the foot of every page changes. */
export async function putUpLegal(s: Context, kind: unknown): Promise<{ readonly first: boolean } | Refused> {
  return s.db.transaction(async (tx) => {
    const row = isKind(kind)
      ? await tx.row<Row<"legal_page">>("SELECT * FROM legal_page WHERE kind = ? FOR UPDATE", [kind])
      : undefined
    if (!row?.draft.replace(/<[^>]*>/g, "").trim()) return { refused: refusals.legal.empty }
    await tx.write("UPDATE legal_page SET shown = draft, shown_at = ? WHERE kind = ?", [
      new Date(await s.clock.now()),
      kind,
    ])
    return { first: row.shown === null }
  })
}

export async function takeDownLegal(s: Context, kind: unknown): Promise<Saved> {
  await s.db.write("UPDATE legal_page SET shown = NULL, shown_at = NULL WHERE kind = ?", [kind])
  return ok
}

/** What is set, as far as these pages speak of it. */
export async function legalFacts(s: Context): Promise<LegalFacts> {
  const school = (await schoolRow(s.db))!
  const offers = await s.db.rows<{ name: string; days: number | null }>(
    "SELECT public_name AS name, refund_days AS days FROM offer WHERE removed_at IS NULL AND hidden = 0 ORDER BY id LIMIT 50",
  )
  const counts = await s.db.row<{ webinars: number; mention: number | null }>(
    "SELECT EXISTS (SELECT 1 FROM webinar) AS webinars, (SELECT mention_days FROM affiliate_rules WHERE id = 1 AND EXISTS (SELECT 1 FROM programme)) AS mention",
  )
  const host = (c: { of: { url: string } } | null) => (c ? new URL(c.of.url).hostname : null)
  return {
    name: school.name,
    postalAddress: school.postal_address,
    email: school.sender_email,
    currency: school.currency,
    taxIncluded: Boolean(school.tax_included),
    taxRate: school.tax_rate,
    statement: school.statement,
    refunds: offers,
    sells: offers.length > 0,
    processor: host(cardsConnected(s.config)),
    meetings: host(meetingConnected(s.config)),
    mentionDays: counts?.mention ?? null,
    webinars: Boolean(counts?.webinars),
  }
}
