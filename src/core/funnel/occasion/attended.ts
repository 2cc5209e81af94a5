import type { OccasionFacts } from "./kind"

export const attended: OccasionFacts = {
  says: (name) => `attended the webinar ${name}`,
  about: "webinar",
  happens: "attended",
}
