import type { OccasionFacts } from "./kind"

export const answered: OccasionFacts = {
  says: (name) => `answers ${name}`,
  about: "field",
  happens: "answered",
}
