import type { OccasionFacts } from "./kind"

export const missed: OccasionFacts = {
  says: (name) => `misses the webinar ${name}`,
  about: "webinar",
  happens: "missed",
}
