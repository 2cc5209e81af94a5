import type { OccasionFacts } from "./kind"

export const surveyAnswered: OccasionFacts = {
  says: (name) => `has answered a survey in ${name}`,
  about: "lesson",
  happens: "survey-answered",
}
