import type { OccasionFacts } from "./kind"

export const planEnded: OccasionFacts = {
  says: (name) => `has a plan for ${name} that ends`,
  about: "offer",
  happens: "plan-ended",
}
