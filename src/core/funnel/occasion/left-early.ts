import type { OccasionFacts } from "./kind"

export const leftEarly: OccasionFacts = {
  says: (name) => `left the webinar ${name} early`,
  about: "webinar",
  happens: "left-early",
}
