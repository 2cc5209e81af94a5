// Changes to the structure of a funnel's draft: a step is put in, copied, moved or removed, its outcomes are led elsewhere or
// set something else off, what it sells is chosen. Each can be taken back.

import * as v from "valibot"
import type { Funnel } from "@/core/funnel/draft"
import { stepById } from "@/core/funnel/draft"
import * as edit from "@/core/funnel/edit"
import { freeSlug, slugOf } from "@/core/funnel/slug"
import type { FirstPageAbout } from "@/core/funnel/step/kind"
import { isTurnedDown, type Outcome, outcomes, type StepKind, soldAt, stepKinds } from "@/core/funnel/step/list"
import { courseGiven } from "@/core/offer/gift/list"
import { giftsOf } from "@/core/offer/offer"
import { type EffectKind, effectKinds } from "@/core/sequence/effect/list"
import { refusals } from "@/core/words/refusals"
import type { Context } from "../context"
import { courseForRecipe } from "../course/course"
import type { Db } from "../db/pool"
import { takenPaths } from "../free-address"
import { loadOffers } from "../offer/offer"
import { gone, id, type Made, type Refused, refusal, type Saved } from "../saved"
import { change, changeDraft } from "./change"

const outcome = v.picklist(Object.keys(outcomes) as Outcome[])

const nameOf = (f: Funnel, step: number) => stepById(f, step)?.name ?? "a step"

/** Where an outcome leads: a step of the same funnel, or nowhere. */
export async function leadOutcome(s: Context, input: unknown): Promise<Saved> {
  const read = v.safeParse(v.object({ step: id, outcome, to: v.nullable(id) }), input)
  if (!read.success) return gone
  const i = read.output
  return change(s, {
    of: { step: i.step },
    says: (f) => `changed where “${nameOf(f, i.step)}” leads`,
    change: (f) => edit.rewire(f, i.step, i.outcome, i.to),
  })
}

/** How an effect is chosen, wherever it is hung. */
export const effectInput = {
  kind: v.picklist(Object.keys(effectKinds) as EffectKind[]),
  /** A tag by its name: it may be new. */
  tag: v.optional(
    v.pipe(v.string(), v.trim(), v.nonEmpty(refusals.funnel.tagName), v.maxLength(60, refusals.funnel.tagLong(60))),
  ),
  sequence: v.optional(id),
  course: v.optional(id),
  offer: v.optional(id),
  /** Also for somebody it was done for before. */
  again: v.optional(v.picklist(["no", "ended", "at-once"]), "no"),
}

const newEffect = v.object({ step: id, outcome, ...effectInput })

/** What an outcome also sets off. */
export async function addEffect(s: Context, input: unknown): Promise<Saved> {
  const read = v.safeParse(newEffect, input)
  if (!read.success) return refusal(read.issues)
  const e = read.output
  return change(s, {
    of: { step: e.step },
    says: (f) => `changed what “${nameOf(f, e.step)}” sets off`,
    async change(f, tx) {
      const chosen = await chosenFor(tx, e)
      if (!chosen) return null
      const done = edit.addEffect(f, e.step, e.outcome, chosen)
      return done === "twice" ? { refused: refusals.value.effectTwice(effectKinds[e.kind].label) } : done
    },
  })
}

export type ChosenEffect = Pick<
  v.InferOutput<typeof newEffect>,
  "kind" | "tag" | "sequence" | "course" | "offer" | "again"
>

/** What was chosen, as an effect with the name of what it is about; undefined where that is gone. A new tag is made. */
export async function chosenFor(
  tx: Db,
  e: ChosenEffect,
): Promise<{ kind: EffectKind; settings: object; name: string } | undefined> {
  const { chooses, of, again } = effectKinds[e.kind]
  if (chooses === null) return { kind: e.kind, settings: of(0), name: "" }
  if (chooses === "tag") {
    if (e.tag === undefined) return undefined
    await tx.insert("tag", { name: e.tag }, "ignore")
  }
  const found = await tx.row<{ id: number; name: string }>(
    {
      tag: "SELECT id, name FROM tag WHERE name = ?",
      sequence: "SELECT id, name FROM sequence WHERE id = ?",
      course: "SELECT id, title AS name FROM course WHERE id = ?",
      offer: "SELECT o.id, o.public_name AS name FROM offer o JOIN programme p ON p.offer_id = o.id WHERE o.id = ?",
    }[chooses],
    [e[chooses] ?? 0],
  )
  if (!found) return undefined
  const settings = of(found.id)
  return { kind: e.kind, settings: again ? again.set(settings, e.again) : settings, name: found.name }
}

export async function removeEffect(s: Context, effect: number): Promise<Saved> {
  return change(s, {
    of: { effect },
    says: (f) => `changed what “${nameOf(f, f.effects.find((e) => e.id === effect)?.step ?? 0)}” sets off`,
    change: (f) => edit.removeEffect(f, effect),
  })
}

/** An address beside the funnel's others that no page has. */
async function freePath(tx: Db, f: Funnel, name: string): Promise<string> {
  const base = f.steps.find((x) => x.path)?.path.split("/")[0] ?? "page"
  return freeSlug(`${base}/${slugOf(name, "step")}`, new Set(await takenPaths(tx)))
}

const placedAs = async (
  s: Context,
  c: Omit<Parameters<typeof changeDraft>[1], "change"> & {
    place(f: Funnel, tx: Db): Promise<edit.Edited | Refused | null>
  },
): Promise<Made> => {
  let step = 0
  const done = await changeDraft(s, {
    ...c,
    async change(f, tx) {
      const put = await c.place(f, tx)
      if (put === null || "refused" in put) return put
      step = put.step
      return put.funnel
    },
  })
  return "refused" in done ? done : { ok: true, id: done.step(step) }
}

const insertable = (Object.keys(stepKinds) as StepKind[]).filter((k) => stepKinds[k].insert)

/** Puts a step in after an outcome: everyone who went out that way now meets it, and goes on to where they went before. */
export async function insertStep(s: Context, input: unknown): Promise<Made> {
  const read = v.safeParse(
    v.object({ after: id, outcome, kind: v.picklist(insertable), offer: v.optional(v.nullable(id), null) }),
    input,
  )
  if (!read.success) return { refused: refusals.funnel.newStep }
  const i = read.output
  const facts = stepKinds[i.kind]
  const offers = await loadOffers(s.db)
  const offer = i.offer === null ? null : (offers.get(i.offer) ?? null)
  if (facts.insert!.offer && !offer)
    return { refused: i.offer === null ? refusals.funnel.stepOffer : refusals.gone.offer }
  const sold = offer && giftsOf(offer, offers).find((g) => courseGiven(g) !== null)
  const course = sold ? ((await courseForRecipe(s.db, courseGiven(sold)!)) ?? null) : null
  const about: FirstPageAbout = { course, offer, second: isTurnedDown(i.outcome) }
  const name = facts.insert!.nameOf(about)
  return placedAs(s, {
    of: { step: i.after },
    says: (f) => `inserted “${name}” after “${nameOf(f, i.after)}”`,
    async place(f, tx) {
      const after = stepById(f, i.after)
      if (facts.insert!.afterSale && after && !soldAt(after)) return { refused: refusals.funnel.afterBuying }
      const path = await freePath(tx, f, facts.sells?.as === "first" && offer ? `${offer.publicName} ${name}` : name)
      const settings = facts.sells
        ? facts.sells.with({}, { offer: offer?.id ?? null, terms: null, replaces: false, skipAs: "accepted" })
        : {}
      const page = facts.hasPage ? (facts.firstPage?.(about) ?? null) : null
      return edit.insertStep(f, i.after, i.outcome, { kind: i.kind, name, path, page, settings })
    },
  })
}

/** Removes a step; whoever was led to it is led past it. What happened on it stays in the story of each person. */
export async function removeStep(s: Context, step: number): Promise<Saved> {
  return change(s, {
    of: { step },
    says: (f) => `removed “${nameOf(f, step)}”`,
    change: (f) => edit.removeStep(f, step) ?? { refused: refusals.funnel.needed },
  })
}

const placeInput = v.object({ step: id, after: id, outcome })

/** Copies a step, page, offer and effects, and puts the copy in after an outcome. */
export async function copyStep(s: Context, input: unknown): Promise<Made> {
  const read = v.safeParse(placeInput, input)
  if (!read.success) return gone
  const i = read.output
  return placedAs(s, {
    of: { step: i.after },
    says: (f) => `put a copy in after “${nameOf(f, i.after)}”`,
    async place(f, tx) {
      const name = `${nameOf(f, i.step).slice(0, 112)} (copy)`
      return edit.copyStep(f, i.step, i.after, i.outcome, { name, path: await freePath(tx, f, name) })
    },
  })
}

/** Moves a step to after another outcome: its old place closes, and its people go on to where that outcome led. */
export async function moveStep(s: Context, input: unknown): Promise<Made> {
  const read = v.safeParse(placeInput, input)
  if (!read.success) return gone
  const i = read.output
  if (i.step === i.after) return { refused: refusals.funnel.itself }
  return placedAs(s, {
    of: { step: i.step },
    says: (f) => `moved “${nameOf(f, i.step)}”`,
    place: async (f) => edit.moveStep(f, i.step, i.after, i.outcome),
  })
}

const sellsInput = v.object({
  step: id,
  offer: id,
  terms: v.nullable(id),
  replaces: v.boolean(),
  skipAs: v.picklist(["accepted", "declined"]),
})

/** What a checkout or a further offer sells, on which terms, and how those who can't have it go on. */
export async function changeSelling(s: Context, input: unknown): Promise<Saved> {
  const read = v.safeParse(sellsInput, input)
  if (!read.success) return gone
  const { step, ...sold } = read.output
  const offer = (await loadOffers(s.db)).get(sold.offer)
  if (!offer) return { refused: refusals.gone.offer }
  if (sold.terms !== null && !offer.terms.some((t) => t.id === sold.terms)) return { refused: refusals.gone.terms }
  return change(s, {
    of: { step },
    says: (f) => `changed what “${nameOf(f, step)}” sells`,
    change: (f) => edit.changeSold(f, step, sold),
  })
}
