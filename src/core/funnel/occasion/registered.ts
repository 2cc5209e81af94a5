import type { OccasionFacts } from "./kind"

export const registered: OccasionFacts = {
  says: (name) => `registers for the webinar ${name}`,
  about: "webinar",
  happens: "registered",
}
