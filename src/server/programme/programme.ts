// Programmes: what is paid for recommending an offer, its conditions by version, and words and pictures ready to use.
import * as v from "valibot"
import { type Programme, type ProgrammeTerms, programmeTerms, usualTerms } from "@/core/affiliate/programme"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import type { Db } from "../db/pool"
import { id, type Made, ok, refusal, type Saved } from "../saved"
import { type Before, reconcile, type SavedShared, type Stored } from "../shared"

export type ProgrammeSet = Programme & {
  readonly name: string
  readonly currency: string
  readonly about: string
  readonly approve: "by-hand" | "at-once"
  /** Where links lead that name no page; null: where the offer sells. */
  readonly step: number | null
  /** 0: there are none. */
  readonly conditionsVersion: number
  readonly conditions: string
}

type Row = {
  offer_id: number
  is_on: number
  from_at: Date | null
  until_at: Date | null
  terms: string
  about: string
  approve: "by-hand" | "at-once"
  step_id: number | null
  conditions_version: number
  name: string
  currency: string
  conditions: string | null
}

const select = `SELECT p.*, o.public_name AS name, o.currency, c.words AS conditions FROM programme p JOIN offer o ON o.id = p.offer_id
  LEFT JOIN programme_conditions c ON c.offer_id = p.offer_id AND c.version = p.conditions_version`

const of = (r: Row): ProgrammeSet => ({
  offer: r.offer_id,
  on: Boolean(r.is_on),
  from: r.from_at?.getTime() ?? null,
  until: r.until_at?.getTime() ?? null,
  terms: readTerms(r.terms),
  name: r.name,
  currency: r.currency,
  about: r.about,
  approve: r.approve,
  step: r.step_id,
  conditionsVersion: r.conditions_version,
  conditions: r.conditions ?? "",
})

/** Stored terms; those of a shape that isn't known are an error, not a guess. */
export const readTerms = (json: string): ProgrammeTerms => v.parse(programmeTerms, JSON.parse(json))

export async function programmeOf(db: Db, offer: number): Promise<ProgrammeSet | undefined> {
  const row = await db.row<Row>(`${select} WHERE p.offer_id = ?`, [offer])
  return row && of(row)
}

/** Every programme that there is or was, by the name of its offer. */
export async function listProgrammes(db: Db): Promise<ProgrammeSet[]> {
  return (await db.rows<Row>(`${select} ORDER BY o.public_name, p.offer_id LIMIT 500`)).map(of)
}

export async function programmesOf(db: Db, offers: readonly number[]): Promise<Map<number, ProgrammeSet>> {
  const rows = await db.rows<Row>(`${select} WHERE p.offer_id IN (?)`, [[0, ...offers]])
  return new Map(rows.map((r) => [r.offer_id, of(r)]))
}

const input = v.object({
  on: v.boolean(),
  from: v.nullable(v.pipe(v.number(), v.integer())),
  until: v.nullable(v.pipe(v.number(), v.integer())),
  ...programmeTerms.entries,
  about: v.pipe(v.string(), v.trim(), v.maxLength(4000, refusals.value.longest(4000))),
  approve: v.picklist(["by-hand", "at-once"]),
  step: v.nullable(id),
})
export type ProgrammeInput = v.InferOutput<typeof input>

/** What a programme that isn't there yet begins with. */
export const firstProgramme: ProgrammeInput = {
  on: false,
  from: null,
  until: null,
  ...usualTerms,
  about: "",
  approve: "by-hand",
  step: null,
}

/** A programme as its editor has it. */
export const programmeInput = (p: ProgrammeSet): ProgrammeInput => ({
  on: p.on,
  from: p.from,
  until: p.until,
  ...p.terms,
  about: p.about,
  approve: p.approve,
  step: p.step,
})

/** A programme with its revision, as its editor opens it; also of an offer that has none yet. */
export async function programmeStored(db: Db, offer: number): Promise<Stored<ProgrammeInput>> {
  const p = await programmeOf(db, offer)
  const row = await db.row<{ revision: number }>("SELECT revision FROM programme WHERE offer_id = ?", [offer])
  return { revision: row?.revision ?? 0, value: p ? programmeInput(p) : firstProgramme }
}

/** Saves a programme for what is sold from now on; what was agreed for earlier sales stays. */
export async function saveProgramme(
  s: Context,
  offer: number,
  typed: unknown,
  before?: Before,
): Promise<SavedShared<ProgrammeInput>> {
  const read = v.safeParse(input, typed)
  if (!read.success) return refusal(read.issues)
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<SavedShared<ProgrammeInput>> => {
    if (!(await tx.row("SELECT id FROM offer WHERE id = ?", [offer]))) return { refused: refusals.gone.thing }
    await putFirst(tx, offer, at)
    await tx.row("SELECT offer_id FROM programme WHERE offer_id = ? FOR UPDATE", [offer])
    const done = reconcile(read.output, await programmeStored(tx, offer), before)
    if ("clash" in done) return done
    const p = done.write
    if (p.from !== null && p.until !== null && p.from >= p.until)
      return { refused: refusals.value.endFirst, field: "until" }
    const steps = [...p.steps].sort((a, b) => a.from - b.from)
    if (new Set(steps.map((x) => x.from)).size < steps.length)
      return { refused: refusals.affiliate.steps, field: "steps" }
    if (p.rate.kind === "percent" && p.rate.value + p.second > 10_000)
      return { refused: refusals.affiliate.wholePercent, field: "second" }
    const { rate, charges, bumps, further, lessFees, second } = p
    await tx.write(
      "UPDATE programme SET is_on = ?, from_at = ?, until_at = ?, terms = ?, about = ?, approve = ?, step_id = ?, changed_at = ?, revision = revision + 1 WHERE offer_id = ?",
      [
        p.on,
        p.from === null ? null : new Date(p.from),
        p.until === null ? null : new Date(p.until),
        JSON.stringify({ rate, charges, bumps, further, lessFees, steps, second }),
        p.about,
        p.approve,
        p.step,
        at,
        offer,
      ],
    )
    return programmeStored(tx, offer)
  })
}

/** A programme that isn't there yet is, with what is usual. */
const putFirst = (tx: Db, offer: number, at: Date) =>
  tx.insert(
    "programme",
    { offer_id: offer, terms: JSON.stringify(usualTerms), made_at: at, changed_at: at },
    "ON DUPLICATE KEY UPDATE offer_id = VALUES(offer_id)",
  )

const longestConditions = 20_000

/** Other words in the conditions are a version of their own, which everybody has to agree to anew; no words: there are none. */
export async function publishConditions(s: Context, offer: number, typed: string): Promise<Saved> {
  const text = typed.trim()
  if (text.length > longestConditions)
    return { refused: refusals.value.longest(longestConditions), field: "conditions" }
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    if (!(await tx.row("SELECT id FROM offer WHERE id = ?", [offer]))) return { refused: refusals.gone.thing }
    await putFirst(tx, offer, at)
    const before = (await tx.row<Row>(`${select} WHERE p.offer_id = ? FOR UPDATE`, [offer]))!
    if (text === (before.conditions ?? "")) return ok
    const version = text === "" ? 0 : await nextVersion(tx, offer)
    if (version) await tx.insert("programme_conditions", { offer_id: offer, version, words: text, at })
    await tx.write("UPDATE programme SET conditions_version = ? WHERE offer_id = ?", [version, offer])
    return ok
  })
}

async function nextVersion(tx: Db, offer: number): Promise<number> {
  const last = await tx.row<{ n: number | null }>(
    "SELECT MAX(version) AS n FROM programme_conditions WHERE offer_id = ?",
    [offer],
  )
  return (last?.n ?? 0) + 1
}

/** The words of a version of conditions, and when they began to hold. */
export async function programmeConditions(
  db: Db,
  offer: number,
  version: number,
): Promise<{ readonly words: string; readonly at: Date } | undefined> {
  return db.row("SELECT words, at FROM programme_conditions WHERE offer_id = ? AND version = ?", [offer, version])
}

export type Material = {
  readonly id: number
  readonly kind: "words" | "picture"
  readonly title: string
  readonly words: string
  readonly media: number | null
  /** The page its link leads to; null: where the programme says. */
  readonly step: number | null
  readonly stored: string | null
}

export async function materialsOf(db: Db, offer: number): Promise<Material[]> {
  return db.rows<Material>(
    `SELECT m.id, m.kind, m.title, m.words, m.media_id AS media, m.step_id AS step, f.stored FROM material m
     LEFT JOIN media f ON f.id = m.media_id WHERE m.offer_id = ? ORDER BY m.position, m.id LIMIT 200`,
    [offer],
  )
}

const materialInput = v.pipe(
  v.object({
    id: v.nullable(id),
    kind: v.picklist(["words", "picture"]),
    title: v.pipe(
      v.string(),
      v.trim(),
      v.nonEmpty(refusals.value.missing),
      v.maxLength(120, refusals.value.longest(120)),
    ),
    words: v.pipe(v.string(), v.trim(), v.maxLength(4000, refusals.value.longest(4000))),
    media: v.nullable(id),
    step: v.nullable(id),
  }),
  v.forward(
    v.check((m) => m.kind !== "words" || m.words !== "", refusals.affiliate.noWords),
    ["words"],
  ),
  v.forward(
    v.check((m) => m.kind !== "picture" || m.media !== null, refusals.affiliate.noPicture),
    ["media"],
  ),
)

export async function saveMaterial(s: Context, offer: number, typed: unknown): Promise<Made> {
  const read = v.safeParse(materialInput, typed)
  if (!read.success) return refusal(read.issues)
  const m = read.output
  return s.db.transaction(async (tx): Promise<Made> => {
    if (!(await tx.row("SELECT offer_id FROM programme WHERE offer_id = ? FOR UPDATE", [offer])))
      return { refused: refusals.gone.thing }
    // What isn't a picture by its content was refused when it was sent up.
    if (m.media !== null && !(await tx.row("SELECT 1 FROM media WHERE id = ? AND kind = 'picture'", [m.media])))
      return { refused: refusals.affiliate.noPicture, field: "media" }
    if (m.id !== null) {
      const done = await tx.write(
        "UPDATE material SET title = ?, words = ?, media_id = ?, step_id = ? WHERE id = ? AND offer_id = ?",
        [m.title, m.words, m.media, m.step, m.id, offer],
      )
      return done.affected ? { ok: true, id: m.id } : { refused: refusals.gone.thing }
    }
    const made = await tx.write(
      "INSERT INTO material (offer_id, position, kind, title, words, media_id, step_id) SELECT ?, COALESCE(MAX(position), 0) + 1, ?, ?, ?, ?, ? FROM material WHERE offer_id = ?",
      [offer, m.kind, m.title, m.words, m.media, m.step, offer],
    )
    return { ok: true, id: made.id }
  })
}

export async function removeMaterial(s: Context, offer: number, material: number): Promise<void> {
  await s.db.write("DELETE FROM material WHERE id = ? AND offer_id = ?", [material, offer])
}

/** How many active affiliates take part in each. */
export async function programmeCounts(db: Db): Promise<Map<number, number>> {
  const rows = await db.rows<{ offer: number; n: number }>(
    "SELECT i.offer_id AS offer, COUNT(*) AS n FROM affiliate_part i JOIN affiliate a ON a.id = i.affiliate_id AND a.state = 'active' GROUP BY i.offer_id",
  )
  return new Map(rows.map((r) => [r.offer, r.n]))
}
