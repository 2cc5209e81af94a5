import type { OccasionFacts } from "./kind"

export const missed: OccasionFacts = {
  says: (name) => `missed the webinar ${name}`,
  about: "webinar",
  happens: "missed",
}
