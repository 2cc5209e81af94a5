import type { OccasionFacts } from "./kind"

export const attended: OccasionFacts = {
  says: (name) => `attends the webinar ${name}`,
  about: "webinar",
  happens: "attended",
}
