import type { OccasionFacts } from "./kind"

export const away: OccasionFacts = {
  says: (name) => `has not been in the course ${name} for as many days as its settings say`,
  about: "course",
  happens: "away",
}
