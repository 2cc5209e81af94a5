import type { OccasionFacts } from "./kind"

export const courseDone: OccasionFacts = {
  says: (name) => `has done the course ${name}`,
  about: "course",
  happens: "course-done",
}
