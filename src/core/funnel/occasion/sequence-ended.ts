import type { OccasionFacts } from "./kind"

export const sequenceEnded: OccasionFacts = {
  says: (name) => `comes to the end of ${name}`,
  about: "sequence",
  happens: "sequence-ended",
}
