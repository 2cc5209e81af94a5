// A whole funnel to check things against, made by the recipe as "New funnel" makes it.

import type { Funnel } from "@/core/funnel/draft"
import { courseSaleFunnel, miniCourseFunnel } from "@/core/funnel/recipe"
import type { RecipeCourse } from "@/core/funnel/step/kind"
import type { Offer } from "@/core/offer/offer"
import type { Block } from "@/core/page/document"
import { holding } from "@/core/page/walk"
import { aboutOf, effectKinds } from "@/core/sequence/effect/list"

export const sampleCourse: RecipeCourse = {
  id: 7,
  slug: "first",
  title: "First",
  promise: "A promise",
  teacher: "Maren",
  state: "live",
  pictureId: null,
  teacherId: 1,
  lessons: [1, 2, 3].map((n) => ({
    id: n,
    title: `Lesson ${n}`,
    minutes: n,
    state: "live" as const,
    module: "",
    free: false,
  })),
  promises: [],
  openings: new Map([[1, "Open <well>"]]),
}

export function sampleFunnel(course: RecipeCourse = sampleCourse): Funnel {
  return numbered(miniCourseFunnel(course, "first"))
}

const terms = (amount: number) => [{ id: amount, name: "", terms: { kind: "full" as const, amount } }]

export const sampleOffer = (id: number, publicName: string, amount: number, gifts: Offer["gifts"]): Offer => ({
  id,
  publicName,
  internalName: "",
  promise: `What ${publicName} is for`,
  pictureId: null,
  picture: null,
  currency: "EUR",
  gifts,
  terms: terms(amount),
  pieces: null,
  perPerson: null,
  from: null,
  until: null,
  hidden: false,
  afterFailure: "ends",
  refundDays: null,
})

const gives = (course: number, title: string): Offer["gifts"][number] => ({
  kind: "course",
  course,
  title,
  state: "live",
  lessons: 3,
})

/** A main offer (1), a further one (2) and its second chance (3). */
export const sampleOffers: readonly Offer[] = [
  sampleOffer(1, "The Year", 29_000, [gives(sampleCourse.id, "First")]),
  sampleOffer(2, "Koji", 6_400, [gives(8, "Koji")]),
  sampleOffer(3, "Clinic", 2_900, [gives(9, "Clinic")]),
]

/** A funnel that sells them. Steps: 1 sales, 2 checkout, 3 further, 4 second, 5 welcome, 6 learning. */
export function sellingFunnel(): Funnel {
  const [offer, further, second] = sampleOffers as [Offer, Offer, Offer]
  return answered(numbered(courseSaleFunnel({ course: sampleCourse, offer, further, second }, "the-year")))
}

/** Every question of its pages answered, as a school does before it publishes. */
export function answered(f: Funnel): Funnel {
  const answer = (b: Block): Block =>
    holding(
      "asks" in b || !("items" in b)
        ? b
        : ({
            ...b,
            items: b.items.map((i) => (typeof i === "object" && "asks" in i ? { ...i, says: i.says || "Yes." } : i)),
          } as Block),
      (held) => held.map(answer),
    )
  return {
    ...f,
    steps: f.steps.map((s) => (s.page ? { ...s, page: { ...s.page, blocks: s.page.blocks.map(answer) } } : s)),
  }
}

/** The recipe's funnel as it would be stored: with numbers. */
function numbered(f: Funnel): Funnel {
  const id = (n: number) => -n
  const sequence = 9
  return {
    ...f,
    id: 1,
    steps: f.steps.map((s) => ({ ...s, id: id(s.id) })),
    streams: f.streams.map((t) => ({ ...t, from: id(t.from), to: t.to === null ? null : id(t.to) })),
    effects: f.effects.map((e) => ({
      ...e,
      id: id(e.id),
      step: id(e.step),
      settings: effectKinds[e.kind].of(aboutOf(e) === -1 ? sequence : aboutOf(e)),
    })),
    sequences: f.sequences.map((q) => ({
      ...q,
      id: sequence,
      mails: q.mails.map((m, i) => ({ ...m, id: 100 + i, stepId: m.stepId === null ? null : id(m.stepId) })),
    })),
  }
}
