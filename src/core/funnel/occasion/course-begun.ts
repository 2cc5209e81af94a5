import type { OccasionFacts } from "./kind"

export const courseBegun: OccasionFacts = {
  says: (name) => `has begun the course ${name}`,
  about: "course",
  happens: "course-begun",
}
