import type { OccasionFacts } from "./kind"

export const refunded: OccasionFacts = {
  says: (name) => `is given money back for ${name}`,
  about: "offer",
  happens: "refunded",
}
