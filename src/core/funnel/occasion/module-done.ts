import type { OccasionFacts } from "./kind"

export const moduleDone: OccasionFacts = {
  says: (name) => `has done the module ${name}`,
  about: "module",
  happens: "module-done",
}
