import type { OccasionFacts } from "./kind"

export const lessonBegun: OccasionFacts = {
  says: (name) => `begins the lesson ${name}`,
  about: "lesson",
  happens: "lesson-opened",
}
