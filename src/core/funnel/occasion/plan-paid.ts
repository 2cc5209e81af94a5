import type { OccasionFacts } from "./kind"

export const planPaid: OccasionFacts = {
  says: (name) => `has paid for ${name} to the end`,
  about: "offer",
  happens: "plan-paid",
}
