import type { OccasionFacts } from "./kind"

export const bought: OccasionFacts = { says: (name) => `buys ${name}`, about: "offer", happens: "bought" }
