import type { OccasionFacts } from "./kind"

export const tagged: OccasionFacts = { says: (name) => `is tagged ${name}`, about: "tag", happens: "tagged" }
