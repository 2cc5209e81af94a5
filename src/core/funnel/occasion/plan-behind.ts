import type { OccasionFacts } from "./kind"

export const planBehind: OccasionFacts = {
  says: (name) => `cannot be charged for ${name} this time`,
  about: "offer",
  happens: "charge-failed",
}
