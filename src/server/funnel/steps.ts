// Changes to the structure of a funnel's draft: a step is put in, copied, moved or removed, its outcomes are led elsewhere or
// set something else off, what it sells is chosen.
// Each keeps how the structure was before, so that it can be taken back.
import * as v from "valibot"
import { effectKinds, type Outcome, outcomes, outcomesOf, type StepKind, stepKinds } from "@/core/funnel/kinds"
import { checkoutPage, furtherPage, salesPage } from "@/core/funnel/recipe"
import { freeSlug, slugOf } from "@/core/funnel/slug"
import { giftsOf, type Offer } from "@/core/offer/offer"
import { actorText } from "@/core/person/actor"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { loadOffers } from "../offer/offer"
import type { Surroundings } from "../surroundings"
import type { Saved } from "./edit"

const id = v.pipe(v.number(), v.integer(), v.minValue(1))
const outcome = v.picklist(Object.keys(outcomes) as Outcome[])
const gone = { refused: "This is no longer there. Reload the page." } as const

/** Kinds of step that can be put into a funnel that is there. */
export const insertable = ["further", "sales", "checkout"] as const satisfies readonly StepKind[]

type StepRow = {
  id: number
  funnel_id: number
  kind: StepKind
  name: string
  path: string
  position: number
  course_id: number | null
  offer_id: number | null
  terms_id: number | null
  replaces: number
  skip_as: "accepted" | "declined"
  page: string | null
  revision: number
}
type StreamRow = { step_id: number; outcome: Outcome; to_step_id: number | null }
type EffectRow = {
  id: number
  step_id: number
  outcome: Outcome
  kind: string
  tag_id: number | null
  sequence_id: number | null
  course_id: number | null
}
type Structure = { steps: StepRow[]; streams: StreamRow[]; effects: EffectRow[] }

export type Placed = { readonly ok: true; readonly step: number } | { readonly refused: string }

async function structureOf(tx: Db, funnel: number): Promise<Structure> {
  await tx.row("SELECT id FROM funnel WHERE id = ? FOR UPDATE", [funnel])
  return {
    steps: await tx.rows<StepRow>("SELECT * FROM step WHERE funnel_id = ? ORDER BY position, id", [funnel]),
    streams: await tx.rows<StreamRow>(
      "SELECT t.step_id, t.outcome, t.to_step_id FROM stream t JOIN step s ON s.id = t.step_id WHERE s.funnel_id = ?",
      [funnel],
    ),
    effects: await tx.rows<EffectRow>(
      "SELECT e.* FROM effect e JOIN step s ON s.id = e.step_id WHERE s.funnel_id = ?",
      [funnel],
    ),
  }
}

async function stepOf(tx: Db, step: number): Promise<StepRow | undefined> {
  return tx.row<StepRow>("SELECT * FROM step WHERE id = ?", [step])
}

/** Does a change to the structure, with how it was before kept, and says in words what it was. */
async function change<T extends Placed | Saved>(
  s: Surroundings,
  step: number,
  what: (step: StepRow) => string,
  work: (tx: Db, step: StepRow, before: Structure) => Promise<T>,
): Promise<T | typeof gone> {
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx) => {
    const found = await stepOf(tx, step)
    if (!found) return gone
    const before = await structureOf(tx, found.funnel_id)
    const done = await work(tx, found, before)
    if ("refused" in done) return done
    await tx.write("INSERT INTO funnel_before (funnel_id, at, what, structure, actor) VALUES (?, ?, ?, ?, ?)", [
      found.funnel_id,
      at,
      what(found).slice(0, 200),
      JSON.stringify(before),
      actorText(s.actor),
    ])
    await tx.write("UPDATE funnel SET changed_at = ? WHERE id = ?", [at, found.funnel_id])
    return done
  })
}

async function lead(tx: Db, from: number, by: Outcome, to: number | null): Promise<void> {
  await tx.write(
    "INSERT INTO stream (step_id, outcome, to_step_id) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE to_step_id = VALUES(to_step_id)",
    [from, by, to],
  )
}

/** Where an outcome leads: a step of the same funnel, or nowhere. */
export async function leadOutcome(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(v.object({ step: id, outcome, to: v.nullable(id) }), input)
  if (!read.success) return gone
  const i = read.output
  return change(
    s,
    i.step,
    (x) => `changed where “${x.name}” leads`,
    async (tx, step, before): Promise<Saved> => {
      if (!outcomesOf(step.kind).includes(i.outcome)) return gone
      if (i.to !== null && !before.steps.some((x) => x.id === i.to)) return gone
      await lead(tx, step.id, i.outcome, i.to)
      return { ok: true }
    },
  )
}

const newEffect = v.variant("kind", [
  v.object({
    step: id,
    outcome,
    kind: v.picklist(["tag-on", "tag-off"]),
    tag: v.pipe(v.string(), v.trim(), v.nonEmpty("Name the tag."), v.maxLength(60, "Keep a tag to 60 characters.")),
  }),
  v.object({ step: id, outcome, kind: v.picklist(["begin-sequence", "end-sequence"]), sequence: id }),
  v.object({ step: id, outcome, kind: v.literal("open-course"), course: id }),
])

/** What an outcome also sets off. */
export async function addEffect(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(newEffect, input)
  if (!read.success) return { refused: read.issues[0].message, field: v.getDotPath(read.issues[0]) ?? undefined }
  const e = read.output
  return change(
    s,
    e.step,
    (x) => `changed what “${x.name}” sets off`,
    async (tx, step, before): Promise<Saved> => {
      if (!outcomesOf(step.kind).includes(e.outcome)) return gone
      let tag: number | null = null
      if ("tag" in e) {
        await tx.write("INSERT IGNORE INTO tag (name) VALUES (?)", [e.tag])
        tag = (await tx.row<{ id: number }>("SELECT id FROM tag WHERE name = ?", [e.tag]))!.id
      }
      const sequence = "sequence" in e ? e.sequence : null
      const course = "course" in e ? e.course : null
      if (sequence !== null && !(await tx.row("SELECT 1 FROM sequence WHERE id = ?", [sequence]))) return gone
      if (course !== null && !(await tx.row("SELECT 1 FROM course WHERE id = ?", [course]))) return gone
      const twice = before.effects.some(
        (x) =>
          x.step_id === e.step &&
          x.outcome === e.outcome &&
          x.kind === e.kind &&
          x.tag_id === tag &&
          x.sequence_id === sequence &&
          x.course_id === course,
      )
      if (twice) return { refused: `It does that already: ${effectKinds[e.kind]}.` }
      await tx.write(
        "INSERT INTO effect (step_id, outcome, kind, tag_id, sequence_id, course_id) VALUES (?, ?, ?, ?, ?, ?)",
        [e.step, e.outcome, e.kind, tag, sequence, course],
      )
      return { ok: true }
    },
  )
}

export async function removeEffect(s: Surroundings, effect: number): Promise<Saved> {
  const found = await s.db.row<{ step_id: number }>("SELECT step_id FROM effect WHERE id = ?", [effect])
  if (!found) return gone
  return change(
    s,
    found.step_id,
    (x) => `changed what “${x.name}” sets off`,
    async (tx): Promise<Saved> => {
      await tx.write("DELETE FROM effect WHERE id = ?", [effect])
      return { ok: true }
    },
  )
}

/** Writes a new step right behind another in the funnel's own order. */
async function addStep(
  tx: Db,
  after: StepRow,
  s: Omit<StepRow, "id" | "funnel_id" | "position" | "revision">,
): Promise<number> {
  await tx.write("UPDATE step SET position = position + 1 WHERE funnel_id = ? AND position > ?", [
    after.funnel_id,
    after.position,
  ])
  const made = await tx.write(
    "INSERT INTO step (funnel_id, kind, name, path, position, course_id, offer_id, terms_id, replaces, skip_as, page) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
    [
      after.funnel_id,
      s.kind,
      s.name,
      s.path,
      after.position + 1,
      s.course_id,
      s.offer_id,
      s.terms_id,
      s.replaces,
      s.skip_as,
      s.page,
    ],
  )
  return made.id
}

/** An address beside the funnel's others that no page has. */
async function freePath(tx: Db, before: Structure, name: string): Promise<string> {
  const base = before.steps.find((x) => x.path)?.path.split("/")[0] ?? "page"
  const taken = await tx.rows<{ path: string }>("SELECT path FROM step UNION SELECT path FROM live_page")
  return freeSlug(`${base}/${slugOf(name, "step")}`, new Set(taken.map((t) => t.path)))
}

const leads = (before: Structure, from: number, by: Outcome) =>
  before.streams.find((t) => t.step_id === from && t.outcome === by)?.to_step_id ?? null

/** Outcomes that lead somewhere; whoever stopped is no longer there. */
const waysOf = (kind: StepKind): readonly Outcome[] => outcomesOf(kind).filter((o) => o !== "stopped")

/** Puts a step in after an outcome: everyone who went out that way now meets it, and goes on to where they went before. */
export async function insertStep(s: Surroundings, input: unknown): Promise<Placed> {
  const read = v.safeParse(v.object({ after: id, outcome, kind: v.picklist(insertable), offer: id }), input)
  if (!read.success) return { refused: "Choose what comes in, and what it offers." }
  const i = read.output
  const offers = await loadOffers(s.db)
  const offer = offers.get(i.offer)
  if (!offer) return { refused: "This offer is no longer there." }
  return change(
    s,
    i.after,
    (after) => `inserted “${offer.publicName}” after “${after.name}”`,
    async (tx, after, before): Promise<Placed> => {
      if (!waysOf(after.kind).includes(i.outcome)) return gone
      const second = i.outcome === "declined"
      const name = i.kind === "checkout" ? "Checkout" : offer.publicName
      const step = await addStep(tx, after, {
        kind: i.kind,
        name,
        path: await freePath(tx, before, i.kind === "checkout" ? `${offer.publicName} checkout` : offer.publicName),
        course_id: null,
        offer_id: i.kind === "sales" ? null : offer.id,
        terms_id: null,
        replaces: 0,
        skip_as: "accepted",
        page: JSON.stringify(await pageFor(tx, i.kind, offer, offers, second)),
      })
      const next = leads(before, after.id, i.outcome)
      for (const way of waysOf(i.kind)) await lead(tx, step, way, next)
      await lead(tx, after.id, i.outcome, step)
      return { ok: true, step }
    },
  )
}

async function pageFor(
  tx: Db,
  kind: (typeof insertable)[number],
  offer: Offer,
  offers: ReadonlyMap<number, Offer>,
  second: boolean,
) {
  if (kind === "further") return furtherPage(offer, second)
  if (kind === "checkout") return checkoutPage(offer, offer.publicName)
  const course = giftsOf(offer, offers).find((g) => g.kind === "course")
  return salesPage(course ? ((await courseForRecipe(tx, course.course)) ?? null) : null, offer)
}

/** Where a step's people would go if it were not there: for a further offer where whoever declines goes. */
function past(before: Structure, step: StepRow): number | null {
  const way = step.kind === "further" ? "declined" : waysOf(step.kind)[0]
  const to = way ? leads(before, step.id, way) : null
  return to === step.id ? null : to
}

/** Takes a step out of the streams: whoever was led to it is led past it. */
async function bypass(tx: Db, before: Structure, step: StepRow): Promise<void> {
  const to = past(before, step)
  for (const t of before.streams.filter((t) => t.to_step_id === step.id && t.step_id !== step.id))
    await lead(tx, t.step_id, t.outcome, to === t.step_id ? null : to)
}

/** Removes a step; whoever was led to it is led past it. What happened on it stays in the story of each person. */
export async function removeStep(s: Surroundings, step: number): Promise<Saved> {
  return change(
    s,
    step,
    (x) => `removed “${x.name}”`,
    async (tx, found, before): Promise<Saved> => {
      if (before.steps.filter((x) => stepKinds[x.kind].page).length < 2 || found.kind === "learning")
        return { refused: "A funnel needs this one." }
      await bypass(tx, before, found)
      await tx.write("DELETE FROM step WHERE id = ?", [step])
      return { ok: true }
    },
  )
}

const placeInput = v.object({ step: id, after: id, outcome })

/** Copies a step, page, offer and effects, and puts the copy in after an outcome. */
export async function copyStep(s: Surroundings, input: unknown): Promise<Placed> {
  const read = v.safeParse(placeInput, input)
  if (!read.success) return gone
  const i = read.output
  return change(
    s,
    i.after,
    (after) => `put a copy in after “${after.name}”`,
    async (tx, after, before): Promise<Placed> => {
      const from = before.steps.find((x) => x.id === i.step)
      if (!from || !stepKinds[from.kind].page || !waysOf(after.kind).includes(i.outcome)) return gone
      const name = `${from.name.slice(0, 112)} (copy)`
      const step = await addStep(tx, after, { ...from, name, path: await freePath(tx, before, name) })
      const next = leads(before, after.id, i.outcome)
      for (const way of waysOf(from.kind)) await lead(tx, step, way, next)
      await lead(tx, after.id, i.outcome, step)
      for (const e of before.effects.filter((x) => x.step_id === from.id))
        await tx.write(
          "INSERT INTO effect (step_id, outcome, kind, tag_id, sequence_id, course_id) VALUES (?, ?, ?, ?, ?, ?)",
          [step, e.outcome, e.kind, e.tag_id, e.sequence_id, e.course_id],
        )
      return { ok: true, step }
    },
  )
}

/** Moves a step to after another outcome: its old place closes, and its people go on to where that outcome led. */
export async function moveStep(s: Surroundings, input: unknown): Promise<Placed> {
  const read = v.safeParse(placeInput, input)
  if (!read.success) return gone
  const i = read.output
  if (i.step === i.after) return { refused: "A step can't follow itself." }
  return change(
    s,
    i.step,
    (x) => `moved “${x.name}”`,
    async (tx, step, before): Promise<Placed> => {
      const after = before.steps.find((x) => x.id === i.after)
      if (!after || !waysOf(after.kind).includes(i.outcome) || !waysOf(step.kind).length) return gone
      const was = leads(before, after.id, i.outcome)
      if (was === step.id) return { ok: true, step: step.id }
      await bypass(tx, before, step)
      for (const way of waysOf(step.kind)) await lead(tx, step.id, way, was)
      await lead(tx, after.id, i.outcome, step.id)
      await tx.write("UPDATE step SET position = position + 1 WHERE funnel_id = ? AND position > ?", [
        step.funnel_id,
        after.position,
      ])
      await tx.write("UPDATE step SET position = ? WHERE id = ?", [after.position + 1, step.id])
      return { ok: true, step: step.id }
    },
  )
}

const sellsInput = v.object({
  step: id,
  offer: id,
  terms: v.nullable(id),
  replaces: v.boolean(),
  skipAs: v.picklist(["accepted", "declined"]),
})

/** What a checkout or a further offer sells, on which terms, and how those who can't have it go on. */
export async function changeSelling(s: Surroundings, input: unknown): Promise<Saved> {
  const read = v.safeParse(sellsInput, input)
  if (!read.success) return gone
  const i = read.output
  const offer = (await loadOffers(s.db)).get(i.offer)
  if (!offer) return { refused: "This offer is no longer there." }
  if (i.terms !== null && !offer.terms.some((t) => t.id === i.terms))
    return { refused: "These terms are no longer there." }
  return change(
    s,
    i.step,
    (x) => `changed what “${x.name}” sells`,
    async (tx, step): Promise<Saved> => {
      if (step.kind !== "checkout" && step.kind !== "further") return gone
      await tx.write("UPDATE step SET offer_id = ?, terms_id = ?, replaces = ?, skip_as = ? WHERE id = ?", [
        i.offer,
        i.terms,
        step.kind === "further" && i.replaces ? 1 : 0,
        i.skipAs,
        step.id,
      ])
      return { ok: true }
    },
  )
}

/** `who`: the name of the account that made it, where one did. */
export type LastChange = { readonly id: number; readonly at: Date; readonly what: string; readonly who: string | null }

/** What can be taken back, the latest first; at most 20. */
export function changesOf(db: Db, funnel: number): Promise<LastChange[]> {
  return db.rows<LastChange>(
    "SELECT b.id, b.at, b.what, a.name AS who FROM funnel_before b LEFT JOIN account a ON b.actor = CONCAT('account:', a.id) WHERE b.funnel_id = ? ORDER BY b.id DESC LIMIT 20",
    [funnel],
  )
}

/**
 * Takes the structure back to before a change, and with it every change since. Pages and names that were edited stay as
 * they are now; a step that was removed comes back with the page it had.
 */
export async function takeBack(s: Surroundings, funnel: number, to: number): Promise<Saved> {
  const at = new Date(await s.clock.now())
  return s.db.transaction(async (tx): Promise<Saved> => {
    const now = await structureOf(tx, funnel)
    const kept = await tx.row<{ structure: string }>(
      "SELECT structure FROM funnel_before WHERE id = ? AND funnel_id = ?",
      [to, funnel],
    )
    if (!kept) return gone
    const was = JSON.parse(kept.structure) as Structure
    const stays = new Set(was.steps.map((x) => x.id))
    const here = new Set(now.steps.map((x) => x.id))
    for (const x of now.steps) if (!stays.has(x.id)) await tx.write("DELETE FROM step WHERE id = ?", [x.id])
    for (const x of was.steps)
      if (here.has(x.id))
        await tx.write(
          "UPDATE step SET position = ?, offer_id = ?, terms_id = (SELECT id FROM offer_terms WHERE id = ?), replaces = ?, skip_as = ? WHERE id = ?",
          [x.position, x.offer_id, x.terms_id, x.replaces, x.skip_as, x.id],
        )
      else
        await tx.write(
          `INSERT INTO step (id, funnel_id, kind, name, path, position, course_id, offer_id, terms_id, replaces, skip_as, page, revision)
           VALUES (?, ?, ?, ?, ?, ?, ?, ?, (SELECT id FROM offer_terms WHERE id = ?), ?, ?, ?, ?)`,
          [
            x.id,
            funnel,
            x.kind,
            x.name,
            x.path,
            x.position,
            x.course_id,
            x.offer_id,
            x.terms_id,
            x.replaces,
            x.skip_as,
            x.page,
            x.revision,
          ],
        )
    const ids = [0, ...stays]
    await tx.write("DELETE FROM stream WHERE step_id IN (?)", [ids])
    await tx.write("DELETE FROM effect WHERE step_id IN (?)", [ids])
    for (const t of was.streams) await lead(tx, t.step_id, t.outcome, t.to_step_id)
    for (const e of was.effects)
      await tx.write(
        `INSERT INTO effect (id, step_id, outcome, kind, tag_id, sequence_id, course_id)
         SELECT ?, ?, ?, ?, (SELECT id FROM tag WHERE id = ?), (SELECT id FROM sequence WHERE id = ?), (SELECT id FROM course WHERE id = ?)`,
        [e.id, e.step_id, e.outcome, e.kind, e.tag_id, e.sequence_id, e.course_id],
      )
    await tx.write("DELETE FROM funnel_before WHERE funnel_id = ? AND id >= ?", [funnel, to])
    await tx.write("UPDATE funnel SET changed_at = ? WHERE id = ?", [at, funnel])
    return { ok: true }
  })
}
