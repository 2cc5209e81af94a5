import type { OccasionFacts } from "./kind"

export const lessonDone: OccasionFacts = {
  says: (name) => `has done the lesson ${name}`,
  about: "lesson",
  happens: "lesson-done",
}
