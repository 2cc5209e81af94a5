import type { OccasionFacts } from "./kind"

export const quizPassed: OccasionFacts = {
  says: (name) => `passes a quiz of the lesson ${name}`,
  about: "lesson",
  happens: "quiz-passed",
}
