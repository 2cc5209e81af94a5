// The occasions.
import type { HappeningKind } from "../../happening"
import { answered } from "./answered"
import { attended } from "./attended"
import { away } from "./away"
import { bought } from "./bought"
import { couponUsed } from "./coupon-used"
import { courseBegun } from "./course-begun"
import { courseDone } from "./course-done"
import { handInAccepted } from "./hand-in-accepted"
import { joined } from "./joined"
import type { OccasionFacts } from "./kind"
import { leftEarly } from "./left-early"
import { lessonBegun } from "./lesson-begun"
import { lessonDone } from "./lesson-done"
import { missed } from "./missed"
import { moduleDone } from "./module-done"
import { picked } from "./picked"
import { planBehind } from "./plan-behind"
import { planEnded } from "./plan-ended"
import { planPaid } from "./plan-paid"
import { quizFailed } from "./quiz-failed"
import { quizPassed } from "./quiz-passed"
import { refunded } from "./refunded"
import { registered } from "./registered"
import { sequenceEnded } from "./sequence-ended"
import { surveyAnswered } from "./survey-answered"
import { tagged } from "./tagged"
import { untagged } from "./untagged"

const modules = {
  joined,
  bought,
  "coupon-used": couponUsed,
  refunded,
  "plan-behind": planBehind,
  "plan-ended": planEnded,
  "plan-paid": planPaid,
  tagged,
  untagged,
  answered,
  picked,
  "lesson-begun": lessonBegun,
  "lesson-done": lessonDone,
  "quiz-passed": quizPassed,
  "quiz-failed": quizFailed,
  "survey-answered": surveyAnswered,
  "hand-in-accepted": handInAccepted,
  "module-done": moduleDone,
  "course-begun": courseBegun,
  "course-done": courseDone,
  registered,
  attended,
  "left-early": leftEarly,
  missed,
  away,
  "sequence-ended": sequenceEnded,
} as const satisfies Record<string, OccasionFacts>

export type Occasion = keyof typeof modules

export const occasions: Readonly<Record<Occasion, OccasionFacts>> = modules

const names = Object.keys(modules) as Occasion[]

/** The occasions that are about such a thing. */
export function occasionsAbout(about: OccasionFacts["about"]): Occasion[] {
  return names.filter((o) => occasions[o].about === about)
}

/** The occasions that a happening is. */
export function occasionsOf(happens: HappeningKind): Occasion[] {
  return names.filter((o) => occasions[o].happens === happens)
}

export function isOccasion(name: string): name is Occasion {
  return Object.hasOwn(modules, name)
}
