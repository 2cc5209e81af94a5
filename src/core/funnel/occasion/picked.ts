import type { OccasionFacts } from "./kind"

export const picked: OccasionFacts = {
  says: (name) => `chooses ${name}`,
  about: "choice",
  happens: "picked",
}
