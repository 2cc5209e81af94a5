import type { OccasionFacts } from "./kind"

export const quizFailed: OccasionFacts = {
  says: (name) => `doesn't pass a quiz of the lesson ${name}`,
  about: "lesson",
  happens: "quiz-failed",
}
