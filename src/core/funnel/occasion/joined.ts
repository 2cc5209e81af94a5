import type { OccasionFacts } from "./kind"

export const joined: OccasionFacts = { says: () => "joins a funnel", about: null, happens: "joined" }
