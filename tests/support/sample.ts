// A whole funnel to check things against, made by the recipe as "New funnel" makes it.
import type { Funnel } from "@/core/funnel/draft"
import { miniCourseRecipe, type Recipe, type RecipeCourse, sellCourseRecipe } from "@/core/funnel/recipe"
import type { Offer } from "@/core/offer/offer"

export const sampleCourse: RecipeCourse = {
  id: 7,
  slug: "first",
  title: "First",
  promise: "A promise",
  teacher: "Maren",
  state: "live",
  pictureId: null,
  lessons: [1, 2, 3].map((n) => ({ id: n, title: `Lesson ${n}`, minutes: n, state: "live" as const })),
  openings: new Map([[1, "Open <well>"]]),
}

export function sampleFunnel(course: RecipeCourse = sampleCourse): Funnel {
  return funnelOf(miniCourseRecipe(course, "first"), course)
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
  return funnelOf(sellCourseRecipe({ course: sampleCourse, offer, further, second }, "the-year"), sampleCourse)
}

function funnelOf(recipe: Recipe, course: RecipeCourse): Funnel {
  const id = new Map(recipe.steps.map((s, i) => [s.key, i + 1]))
  return {
    id: 1,
    name: recipe.name,
    steps: recipe.steps.map((s) => ({
      id: id.get(s.key)!,
      kind: s.kind,
      name: s.name,
      path: s.path,
      page: s.page,
      courseId: s.kind === "learning" ? course.id : null,
      offerId: s.offer ?? null,
      termsId: null,
      replaces: false,
      skipAs: "accepted" as const,
    })),
    streams: recipe.streams.map((s) => ({ from: id.get(s.from)!, outcome: s.outcome, to: id.get(s.to)! })),
    effects: recipe.effects.map((e, i) => ({
      id: i + 1,
      step: id.get(e.step)!,
      outcome: e.outcome,
      kind: e.kind,
      subject: e.kind === "open-course" ? course.id : 9,
      name: "",
    })),
    sequences: [
      {
        id: 9,
        name: recipe.sequence.name,
        state: "live",
        leaveLine: recipe.sequence.leaveLine,
        mails: recipe.sequence.mails.map((m, i) => ({ ...m, id: 100 + i, stepId: id.get(m.leadsTo ?? "") ?? null })),
      },
    ],
    courses: [course],
  }
}
