import type { OccasionFacts } from "./kind"

export const untagged: OccasionFacts = { says: (name) => `loses the tag ${name}`, about: "tag", happens: "untagged" }
