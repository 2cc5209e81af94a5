// A whole funnel to check things against, made by the recipe as "New funnel" makes it.
import type { Funnel } from "@/core/funnel/draft"
import { miniCourseRecipe, type RecipeCourse } from "@/core/funnel/recipe"

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
  const recipe = miniCourseRecipe(course, "first")
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
      offerId: null,
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
        mails: recipe.sequence.mails.map((m, i) => ({ ...m, id: 100 + i, stepId: null })),
      },
    ],
    courses: [course],
  }
}
