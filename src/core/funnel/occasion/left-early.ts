import type { OccasionFacts } from "./kind"

export const leftEarly: OccasionFacts = {
  says: (name) => `leaves the webinar ${name} early`,
  about: "webinar",
  happens: "left-early",
}
