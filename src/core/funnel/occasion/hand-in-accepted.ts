import type { OccasionFacts } from "./kind"

export const handInAccepted: OccasionFacts = {
  says: (name) => `is accepted with what they handed in for the lesson ${name}`,
  about: "lesson",
  happens: "hand-in-accepted",
}
