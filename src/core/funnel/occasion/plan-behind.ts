import type { OccasionFacts } from "./kind"

export const planBehind: OccasionFacts = {
  says: (name) => `can not be charged for ${name} this time`,
  about: "offer",
  happens: "charge-failed",
}
